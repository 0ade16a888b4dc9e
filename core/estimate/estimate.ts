import { isDone, KIND } from '../calculation/cells/cells';
import type { CompiledBook } from '../calculation/compiled/compiled';
import { variantAt, type CompiledVariant } from '../calculation/compiled/variants';
import { CHILD, FILL, PASS, type FillCode, type Pass } from './codes';
import { combine } from './combine';
import { combineLowHigh } from './combine-low-high';
import { ERROR_ITEM } from './error-bounds';
import { onFlatLine } from './flat-then';
import type { Estimate } from './state';
import { reaches, reachesExactly } from './thresholds';

export { PASS, type Pass } from './codes';
export { makeEstimate, type Estimate } from './state';

/** Works out all three passes of a student, by their number. */
export function estimateStudent(compiled: CompiledBook, e: Estimate, student: number): void {
  const { cells } = compiled;
  e.student = student;
  e.variant = variantAt(compiled, student);
  e.isInconclusive = e.variant.flat.exactOnly;
  e.open = false;
  e.run++;
  if (e.isInconclusive) return;
  const base = student * cells.width;
  for (let i = 0; i < cells.width; i++)
    if (cells.kind[base + i]! & KIND.open) {
      e.open = true;
      break;
    }
  // What a variant leaves out is neither worked out nor dropped.
  if (e.variant.leftOut.size > 0) {
    e.dropped.fill(0);
    e.droppedGroups.fill(0);
    e.ratio.fill(NaN);
  }
  estimateGroup(compiled, e, 0, PASS.now, FILL.none);
  if (!e.open || e.isInconclusive) return;
  estimateGroup(compiled, e, 0, PASS.low, FILL.none);
  estimateGroup(compiled, e, 0, PASS.high, FILL.none);
}

/** One group with all below it and all that it counts; step 6 of section 5.1 is its end. */
export function estimateGroup(compiled: CompiledBook, e: Estimate, g: number, pass: Pass, wanted: FillCode): void {
  const { flat } = e.variant;
  const G = compiled.groups.length;
  const at = pass * G + g;
  const pieces = flat.pieces[g]!;
  const fill = pieces === null ? wanted : isBegun(compiled, e, pieces) ? FILL.pieces : FILL.none;
  // Extra credit goes by its own pieces wherever it stands.
  const isSolo = e.alsoRun.length > 0 && (wanted === FILL.none || pieces !== null);
  if (isSolo && e.soloOf[at] === e.run) return;
  // Where nothing is open below, low and high are as it is; under a group that may fill blanks they need not be.
  if (pass !== PASS.now && e.movesBelow[g] === 0 && flat.underFills[g] === 0) {
    // Hurdles may look at groups further down.
    const to = looksBelow(e.variant) ? flat.end[g]! : g + 1;
    e.ratio.copyWithin(at, g, to);
    e.possible.copyWithin(at, g, to);
    if (isSolo) keepSolo(e, at);
    for (const a of flat.reaching[g] ?? []) {
      e.reached[pass * flat.alsoOf.length + a] = e.reached[a]!;
      e.asked[pass * flat.alsoOf.length + a] = e.asked[a]!;
    }
    return;
  }
  if (pass !== PASS.now && fill === FILL.none && flat.bare[g] === 1) {
    // Both at once; the second pass finds it done.
    if (e.lowHighOf[g] !== e.run) combineLowHigh(compiled, e, g);
    e.lowHighOf[g] = e.run;
  } else estimateOnce(compiled, e, g, pass, fill, isSolo);
  if (isSolo) keepSolo(e, at);
}

function estimateOnce(
  compiled: CompiledBook,
  e: Estimate,
  g: number,
  pass: Pass,
  fill: FillCode,
  isSolo: boolean,
): void {
  const { flat } = e.variant;
  let open = flat.nested[g] === 1 ? estimateChildren(compiled, e, g, pass, fill) : 0;
  const own = combine(compiled, e, g, pass, fill, open, isSolo);
  if (own > 0 || fill !== FILL.none || flat.fills[g] === 0) return;
  open = flat.nested[g] === 1 ? estimateChildren(compiled, e, g, pass, FILL.blanks) : 0;
  combine(compiled, e, g, pass, FILL.blanks, open, isSolo);
}

function keepSolo(e: Estimate, at: number): void {
  e.solo[at] = e.ratio[at]!;
  e.soloPossible[at] = e.possible[at]!;
  e.soloOf[at] = e.run;
}

const looksBelow = ({ hurdles }: CompiledVariant): boolean => hurdles.byNode.length + hurdles.others.length > 0;

/** Groups and alsos of a group. Gives what keeps it open: 1 for it and all above, 2 where only low and high move. */
function estimateChildren(compiled: CompiledBook, e: Estimate, g: number, pass: Pass, fill: FillCode): number {
  const { flat } = e.variant;
  let open = 0;
  for (let c = flat.childFrom[g]!; c < flat.childFrom[g + 1]!; c++) {
    const ref = flat.child[c]!;
    if (flat.childFlags[c]! & CHILD.also) {
      const a = ref - flat.items;
      open |= estimateAlso(compiled, e, a, pass) & (flat.alsoOptional[a] === 1 ? 2 : 3);
    } else if (ref < 0) {
      estimateGroup(compiled, e, ~ref, pass, fill);
      open |= e.openBelow[~ref]! | (e.movesBelow[~ref]! << 1);
    }
  }
  return open;
}

function isBegun(compiled: CompiledBook, e: Estimate, pieces: Int32Array): boolean {
  const base = e.student * compiled.cells.width;
  for (const i of pieces) if (isDone(compiled.cells.kind[base + i]!)) return true;
  return false;
}

/**
 * A node counted again, in doubles (contract, section 5.2). Gives whether what it counts is open: 1 where it is, with 2
 * where low and high are others than now.
 */
export function estimateAlso(compiled: CompiledBook, e: Estimate, a: number, pass: Pass): number {
  const { flat } = e.variant;
  const of = flat.alsoOf[a]!;
  const at = pass * flat.alsoOf.length + a;
  if (of >= 0) {
    const kind = compiled.cells.kind[e.student * compiled.cells.width + of]!;
    if (e.alsoRun[at] !== e.run) settleItem(compiled, e, a, at, of, pass);
    return kind & KIND.open ? 3 : 0;
  }
  const group = pass * compiled.groups.length + ~of;
  estimateGroup(compiled, e, ~of, pass, FILL.none);
  if (e.alsoRun[at] !== e.run) {
    settle(e, a, at, e.solo[group]!, e.soloPossible[group]!);
    const from = flat.alsoFrom[a]!;
    const ratio = e.solo[group]!;
    if (from === from && ratio === ratio) e.alsoRatio[at] = reaches(e, ratio, from, flat.errorRatio[~of]!) ? 1 : 0;
  }
  return e.openBelow[~of]! | (e.movesBelow[~of]! << 1);
}

function settleItem(compiled: CompiledBook, e: Estimate, a: number, at: number, i: number, pass: Pass): void {
  const points = e.variant.flat.points[i]!;
  const own = itemRatio(compiled, e, i, pass);
  settle(e, a, at, own, points);
  const from = e.variant.flat.alsoFrom[a]!;
  if (from !== from || own !== own) return;
  const cell = e.student * compiled.cells.width + i;
  const kind = compiled.cells.kind[cell]!;
  const isTaken = pass !== PASS.now && (kind & KIND.open) !== 0;
  const known = isTaken || kind & KIND.isExact ? NaN : reachesExactly(compiled.cells.earned[cell]!, points, from);
  e.alsoRatio[at] = known === known ? known : reaches(e, own, from, isTaken ? 0 : ERROR_ITEM) ? 1 : 0;
}

/** What an item is worth by itself, of one; NaN where it is skipped. */
export function itemRatio(compiled: CompiledBook, e: Estimate, i: number, pass: Pass): number {
  const at = e.student * compiled.cells.width + i;
  const kind = compiled.cells.kind[at]!;
  if (pass !== PASS.now && kind & KIND.open) return pass === PASS.high ? 1 : 0;
  return kind & KIND.skipped ? NaN : compiled.cells.earned[at]! / compiled.items[i]!.source.points;
}

function settle(e: Estimate, a: number, at: number, own: number, possible: number): void {
  const { flat } = e.variant;
  e.alsoRun[at] = e.run;
  const points = flat.alsoPoints[a]!;
  e.alsoPossible[at] = points === points ? points : possible;
  const line = flat.alsoLine[a]!;
  const reaching = flat.alsoReaching[a]!;
  if (own !== own) e.alsoRatio[at] = NaN;
  else if (line !== null) e.alsoRatio[at] = onFlatLine(line, own * 100) / 100;
  else e.alsoRatio[at] = reaching === reaching ? e.reached[at]! / e.asked[at]! : own;
}
