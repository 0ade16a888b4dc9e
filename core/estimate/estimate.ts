import { isFillable, KIND } from '../calculation/cells';
import type { CompiledBook } from '../calculation/compile';
import { chooseDrops, makeDropScratch, type DropScratch } from './choose-drops';
import { CHILD, COMBINE } from './flat-tree';

/** The three ways of section 7: as it is, every open item at nothing, every open item at full points. */
export const PASS = { now: 0, low: 1, high: 2 } as const;
export type Pass = 0 | 1 | 2;

/**
 * One student's tree in doubles. Ratios are of one, NaN where a group is skipped; how far each may be off is
 * `flat.errorRatio`. `unsure`: some choice (what to drop) was too close for doubles; nothing here may then be used.
 */
export interface Estimate {
  student: number;
  isInconclusive: boolean;
  open: boolean;
  /** By group number, for each pass one after the other. */
  ratio: Float64Array;
  possible: Float64Array;
  /** By group number: some item below it that counts is open. */
  openBelow: Uint8Array;
  /** As it is: dropped by its own group. By item number, and by group number. */
  dropped: Uint8Array;
  droppedGroups: Uint8Array;
  scratch: DropScratch;
}

export function makeEstimate(compiled: CompiledBook): Estimate {
  const G = compiled.groups.length;
  return {
    student: -1,
    isInconclusive: false,
    open: false,
    ratio: new Float64Array(3 * G),
    possible: new Float64Array(3 * G),
    openBelow: new Uint8Array(G),
    dropped: new Uint8Array(compiled.items.length),
    droppedGroups: new Uint8Array(G),
    scratch: makeDropScratch(compiled.flat.widest),
  };
}

/** Works out all three passes of a student, by their number. */
export function estimateStudent(compiled: CompiledBook, e: Estimate, student: number): void {
  const { cells } = compiled;
  e.student = student;
  e.isInconclusive = false;
  e.open = false;
  const base = student * cells.width;
  for (let i = 0; i < cells.width; i++)
    if (cells.kind[base + i]! & KIND.open) {
      e.open = true;
      break;
    }
  group(compiled, e, 0, PASS.now, false);
  if (!e.open || e.isInconclusive) return;
  group(compiled, e, 0, PASS.low, false);
  group(compiled, e, 0, PASS.high, false);
}

/** One group with all below it; step 6 of section 5 is its second half. */
function group(compiled: CompiledBook, e: Estimate, g: number, pass: Pass, fill: boolean): void {
  const at = pass * compiled.groups.length + g;
  // Where nothing is open below, low and high are as it is; under a group that may fill blanks they need not be.
  if (pass !== PASS.now && e.openBelow[g] === 0 && compiled.flat.underFills[g] === 0) {
    e.ratio[at] = e.ratio[g]!;
    e.possible[at] = e.possible[g]!;
    // Hurdles may look at groups further down.
    if (compiled.hurdles.length > 0) e.ratio.copyWithin(at, g, compiled.flat.end[g]!);
    return;
  }
  combine(compiled, e, g, pass, fill);
  if (!fill && compiled.flat.fills[g] === 1 && Number.isNaN(e.ratio[at]!)) combine(compiled, e, g, pass, true);
}

function combine(compiled: CompiledBook, e: Estimate, g: number, pass: Pass, fill: boolean): void {
  const { flat, cells } = compiled;
  const { child, childFlags, childShare, points } = flat;
  const { kind, earned: earnedOf } = cells;
  const from = flat.childFrom[g]!;
  const to = flat.childFrom[g + 1]!;
  const offset = pass * compiled.groups.length;
  const mode = flat.combine[g]!;
  let openBelow = 0;
  if (flat.nested[g] === 1)
    for (let c = from; c < to; c++) {
      const ref = child[c]!;
      if (ref >= 0) continue;
      group(compiled, e, ~ref, pass, fill);
      openBelow |= e.openBelow[~ref]!;
    }
  const { worth, share: shares, droppable, certain, place, earned: earnings } = e.scratch;
  const base = e.student * cells.width;
  const drops = flat.lowest[g]! + flat.highest[g]! + flat.keepBest[g]! > 0;
  let m = 0;
  let sumWorth = 0;
  let sumShare = 0;
  let sumPossible = 0;
  let extra = 0;
  for (let c = from; c < to; c++) {
    const ref = child[c]!;
    const flags = childFlags[c]!;
    let earned: number;
    let possible: number;
    let held = 0;
    let sure = 1;
    if (ref >= 0) {
      if (flags & CHILD.idle) continue;
      const k = kind[base + ref]!;
      earned = earnedOf[base + ref]!;
      possible = points[ref]!;
      // Plainly scored, in most cells: neither open nor skipped nor anything else.
      if ((k & ~KIND.state) !== 0) {
        openBelow |= k & KIND.open;
        held = k & KIND.protected;
        if (pass !== PASS.now && k & KIND.open) earned = pass === PASS.high ? possible : 0;
        else if (k & KIND.skipped) {
          if (!fill || flat.optional[ref] === 1 || !isFillable(k)) continue;
          earned = 0;
        } else if (k & KIND.isExact) sure = 0;
      }
    } else {
      const ratio = e.ratio[offset + ~ref]!;
      if (ratio !== ratio) continue;
      possible = e.possible[offset + ~ref]!;
      earned = ratio * possible;
      sure = 0;
    }
    let share = possible;
    let w = earned;
    if (mode !== COMBINE.points) {
      share = childShare[c]!;
      w = ref >= 0 ? earned / possible : e.ratio[offset + ~ref]!;
      if (mode === COMBINE.weights) w *= share;
    }
    if (flags & CHILD.extra) {
      extra += w;
      continue;
    }
    if (share === 0) continue;
    sumWorth += w;
    sumShare += share;
    sumPossible += possible;
    if (drops) {
      worth[m] = w;
      shares[m] = share;
      earnings[m] = earned;
      certain[m] = sure;
      droppable[m] = held !== 0 || flags & CHILD.kept ? 0 : 1;
      place[m] = c;
    }
    m++;
  }
  if (pass === PASS.now) {
    e.openBelow[g] = openBelow === 0 ? 0 : 1;
    if (drops) clearDropped(compiled, e, from, to);
  }
  const at = offset + g;
  if (m === 0) {
    e.ratio[at] = NaN;
    e.possible[at] = 0;
    return;
  }
  if (drops && m > 1) {
    const s = e.scratch;
    s.count = m;
    if (!chooseDrops(compiled, g, s)) e.isInconclusive = true;
    sumWorth = 0;
    sumShare = 0;
    for (let j = 0; j < m; j++) {
      if (s.out[j] === 1) {
        const ref = child[place[j]!]!;
        if (pass === PASS.now) {
          if (ref >= 0) e.dropped[ref] = 1;
          else e.droppedGroups[~ref] = 1;
        }
        continue;
      }
      sumWorth += worth[j]!;
      sumShare += shares[j]!;
    }
    if (mode === COMBINE.points) sumPossible = sumShare;
  }
  let ratio: number;
  if (mode === COMBINE.points) ratio = (sumWorth + extra) / sumShare;
  else ratio = extra === 0 ? sumWorth / sumShare : sumWorth / sumShare + extra / flat.bonusBase[g]!;
  e.ratio[at] = Math.max(Math.min(ratio, flat.cap[g]!), flat.floor[g]!);
  e.possible[at] = sumPossible;
}

function clearDropped(compiled: CompiledBook, e: Estimate, from: number, to: number): void {
  for (let c = from; c < to; c++) {
    const ref = compiled.flat.child[c]!;
    if (ref >= 0) e.dropped[ref] = 0;
    else e.droppedGroups[~ref] = 0;
  }
}
