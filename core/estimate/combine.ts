import { isFillable, isUndone, KIND } from '../calculation/cells/cells';
import type { CompiledBook } from '../calculation/compiled/compiled';
import { chooseDrops, U } from './choose-drops';
import { CHILD, COMBINE, FILL, PASS, type FillCode, type Pass } from './codes';
import type { FlatTree } from './flat-tree';
import { onFlatLine, type FlatThen } from './flat-then';
import type { Estimate } from './state';
import { reaches, reachesExactly } from './thresholds';

/**
 * One group from its children, which are worked out (contract, section 5.1). `openBelow`: what its groups and alsos keep
 * open, see `estimateChildren`. Gives how many children count here, alsos aside.
 */
export function combine(
  compiled: CompiledBook,
  e: Estimate,
  g: number,
  pass: Pass,
  fill: FillCode,
  openBelow: number,
  isSolo: boolean,
): number {
  const { flat } = e.variant;
  const { cells } = compiled;
  const { child, childFlags, childShare, points } = flat;
  const { kind, earned: earnedOf } = cells;
  const from = flat.childFrom[g]!;
  const to = flat.childFrom[g + 1]!;
  const offset = pass * compiled.groups.length;
  const mode = flat.combine[g]!;
  const inPoints = mode === COMBINE.points;
  const {
    worth,
    share: shares,
    droppable,
    droppableHigh,
    certain,
    place,
    earned: earnings,
    outOf,
    out: dropped,
  } = e.scratch;
  const base = e.student * cells.width;
  const drops = flat.drops[g] === 1;
  const reaching = isSolo ? flat.reaching[g]! : null;
  const keeps = drops || reaching !== null || mode >= COMBINE.median;
  let open = openBelow;
  let m = 0;
  let own = 0;
  let free = 0;
  let mayDrop = 0;
  let isEven = true;
  let standing = 0;
  let sumWorth = 0;
  let sumShare = 0;
  let sumPossible = 0;
  let alsoPossible = 0;
  let extra = 0;
  for (let c = from; c < to; c++) {
    const ref = child[c]!;
    const flags = childFlags[c]!;
    let earned: number;
    let possible: number;
    let out: number;
    let ratio = NaN;
    let held = 0;
    let sure = 1;
    if (flags & CHILD.also) {
      const at = pass * flat.alsoOf.length + ref - flat.items;
      ratio = e.alsoRatio[at]!;
      if (ratio !== ratio) continue;
      possible = e.alsoPossible[at]!;
      const of = flat.alsoOf[ref - flat.items]!;
      held = of >= 0 && (flags & CHILD.stands) === 0 ? kind[base + of]! & KIND.protected : 0;
      earned = ratio * possible;
      out = possible;
      sure = 0;
      if (of >= 0 && isPlain(flat, ref - flat.items)) {
        const k = kind[base + of]!;
        const isTakenAtEnd = pass !== PASS.now && (k & KIND.open) !== 0;
        if (isTakenAtEnd || (k & (KIND.skipped | KIND.isExact)) === 0) {
          out = points[of]!;
          earned = isTakenAtEnd ? (pass === PASS.high ? out : 0) : earnedOf[base + of]!;
          sure = 1;
        }
      }
    } else if (ref >= 0) {
      if (flags & CHILD.idle) continue;
      const k = kind[base + ref]!;
      earned = earnedOf[base + ref]!;
      out = possible = points[ref]!;
      // Plainly scored, in most cells: neither open nor skipped nor anything else.
      if ((k & ~KIND.state) !== 0) {
        if (k & KIND.open) open |= 3;
        held = k & KIND.protected;
        if (pass !== PASS.now && k & KIND.open) earned = pass === PASS.high ? possible : 0;
        else if (k & KIND.skipped) {
          if (fill === FILL.none || !isTaken(flat, fill, ref, flags, k)) continue;
          earned = 0;
        } else if (k & KIND.isExact) sure = 0;
      }
    } else {
      ratio = e.ratio[offset + ~ref]!;
      if (ratio !== ratio) continue;
      out = possible = e.possible[offset + ~ref]!;
      earned = ratio * possible;
      sure = 0;
    }
    let share = possible;
    let w = earned;
    if (!inPoints) {
      share = childShare[c]!;
      w = ratio === ratio ? ratio : earned / possible;
      if (mode === COMBINE.weights) w *= share;
    }
    if (flags & CHILD.extra) {
      extra += w;
      continue;
    }
    if (share === 0) continue;
    sumWorth += w;
    sumShare += share;
    if (flags & CHILD.also) alsoPossible += possible;
    else {
      sumPossible += possible;
      own++;
    }
    if (keeps) {
      worth[m] = w;
      shares[m] = share;
      earnings[m] = earned;
      outOf[m] = out;
      certain[m] = sure;
      const kept = flags & CHILD.kept;
      if (share !== shares[0]) isEven = false;
      dropped[m] = 0;
      if (held !== 0 || kept) droppable[m] = 0;
      else {
        droppable[m] = 1;
        mayDrop++;
      }
      droppableHigh[m] = kept || (held !== 0 && (flags & CHILD.also) === 0) ? 0 : 1;
      place[m] = c;
      if (flags & CHILD.stands) standing++;
      else if (!kept) free++;
    }
    m++;
  }
  if (pass === PASS.now) {
    e.openBelow[g] = open & 1;
    e.movesBelow[g] = open === 0 ? 0 : 1;
    if (drops) clearDropped(e, from, to);
  }
  const at = offset + g;
  if (m === 0) {
    e.ratio[at] = NaN;
    e.possible[at] = 0;
    return own;
  }
  const s = e.scratch;
  s.count = m;
  s.sumWorth = sumWorth;
  s.sumShare = sumShare;
  s.extra = extra;
  if (drops && m > 1) {
    s.free = free;
    s.mayDrop = mayDrop;
    s.isEven = isEven;
    s.standing = standing;
    leaveOut(e, g, pass);
  }
  if (reaching !== null) countReaching(e, g, pass, reaching);
  e.ratio[at] = ratioOfSums(e, g);
  e.possible[at] = inPoints ? s.sumShare : own > 0 ? sumPossible : alsoPossible;
  return own;
}

/** Drops what the rules of a group drop, out of the scratch and its sums. */
export function leaveOut(e: Estimate, g: number, pass: Pass): void {
  const s = e.scratch;
  const { flat } = e.variant;
  s.ratio = s.sumWorth / s.sumShare;
  if (!chooseDrops(flat, g, s)) e.isInconclusive = true;
  let sumWorth = 0;
  let sumShare = 0;
  for (let j = 0; j < s.count; j++) {
    if (s.out[j] === 1) {
      if (pass === PASS.now) noteDropped(e, flat.child[s.place[j]!]!);
      continue;
    }
    sumWorth += s.worth[j]!;
    sumShare += s.share[j]!;
  }
  s.sumWorth = sumWorth;
  s.sumShare = sumShare;
}

/** The group's ratio from the sums in the scratch, with extra credit, `then`, cap and floor. */
export function ratioOfSums(e: Estimate, g: number): number {
  const { flat } = e.variant;
  const { sumWorth, sumShare, extra } = e.scratch;
  const mode = flat.combine[g]!;
  let ratio: number;
  if (mode === COMBINE.points) ratio = bounded(sumWorth, extra, sumShare, flat.extraAtMost[g]!);
  else {
    ratio = mode < COMBINE.median ? sumWorth / sumShare : mode === COMBINE.median ? median(e) : decaying(e, g);
    if (extra !== 0) ratio += Math.min(extra / flat.bonusBase[g]!, flat.extraAtMost[g]!);
  }
  const then = flat.then[g]!;
  if (then !== null) ratio = afterThen(e, then, ratio, flat.errorBefore[g]!);
  return Math.max(Math.min(ratio, flat.cap[g]!), flat.floor[g]!);
}

/** An also whose ratio is that of what it counts, in its points. */
const isPlain = (flat: FlatTree, a: number): boolean =>
  flat.alsoLine[a] === null && Number.isNaN(flat.alsoFrom[a]!) && Number.isNaN(flat.alsoPoints[a]!);

const isTaken = (flat: FlatTree, fill: FillCode, i: number, flags: number, kind: number): boolean =>
  fill === FILL.blanks ? flat.optional[i] === 0 && isFillable(kind) : (flags & CHILD.extra) === 0 && isUndone(kind);

const bounded = (worth: number, extra: number, share: number, atMost: number): number =>
  atMost === Infinity ? (worth + extra) / share : worth / share + Math.min(extra / share, atMost);

function noteDropped(e: Estimate, ref: number): void {
  if (ref < 0) e.droppedGroups[~ref] = 1;
  else if (ref < e.variant.flat.items) e.dropped[ref] = 1;
}

function clearDropped(e: Estimate, from: number, to: number): void {
  const { child, items } = e.variant.flat;
  for (let c = from; c < to; c++) {
    const ref = child[c]!;
    if (ref < 0) e.droppedGroups[~ref] = 0;
    else if (ref < items) e.dropped[ref] = 0;
  }
}

/** A child's ratio, from what stands in the scratch. */
function ratioOf(e: Estimate, mode: number, j: number): number {
  const { worth, share } = e.scratch;
  return mode === COMBINE.points || mode === COMBINE.weights ? worth[j]! / share[j]! : worth[j]!;
}

/** Of the children that stay, the share that reaches a percentage, for each also that asks. */
function countReaching(e: Estimate, g: number, pass: Pass, alsos: Int32Array): void {
  const { flat } = e.variant;
  const { count, out, certain, earned, outOf, place } = e.scratch;
  for (const a of alsos) {
    const percent = flat.alsoReaching[a]!;
    let asked = 0;
    let reached = 0;
    for (let j = 0; j < count; j++) {
      if (out[j] === 1) continue;
      asked++;
      const known = certain[j] === 1 ? reachesExactly(earned[j]!, outOf[j]!, percent) : NaN;
      if (known === known) reached += known;
      else if (reaches(e, ratioOf(e, flat.combine[g]!, j), percent, flat.childError[place[j]!]! + 2)) reached++;
    }
    e.reached[pass * flat.alsoOf.length + a] = reached;
    e.asked[pass * flat.alsoOf.length + a] = asked;
  }
}

function median(e: Estimate): number {
  const { worth, value, count } = e.scratch;
  value.set(worth.subarray(0, count));
  const ratios = value.subarray(0, count).sort();
  const half = count >> 1;
  return count % 2 === 1 ? ratios[half]! : (ratios[half - 1]! + ratios[half]!) / 2;
}

function decaying(e: Estimate, g: number): number {
  const { worth, count } = e.scratch;
  const newest = e.variant.flat.newest[g]!;
  const older = e.variant.flat.older[g]!;
  let ratio = worth[0]!;
  for (let j = 1; j < count; j++) ratio = newest * worth[j]! + older * ratio;
  return ratio;
}

/** `error`: what the ratio may be off by, before it. */
function afterThen(e: Estimate, then: FlatThen, ratio: number, error: number): number {
  const percent = ratio * 100;
  if (then.kind === 'through') return onFlatLine(then.line, percent) / 100;
  if (then.kind === 'steps') {
    let gives = 0;
    for (let i = 0; i < then.from.length; i++) if (reaches(e, ratio, then.from[i]!, error)) gives = then.gives[i]!;
    return gives / 100;
  }
  const x = percent / then.step;
  const off = x * (error + 4) * U;
  const shift = then.mode === 'down' ? 0 : 0.5;
  const whole = Math.floor(x - off + shift);
  // At a tie, and at the edge of one, fractions decide.
  if (x !== 0 && (whole !== Math.floor(x + off + shift) || Number.isInteger(x - off + shift))) e.isInconclusive = true;
  return (whole * then.step) / 100;
}
