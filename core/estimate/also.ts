import { KIND } from '../calculation/cells';
import type { CompiledBook } from '../calculation/compiled';
import { U } from './choose-drops';
import { ERROR_ITEM } from './error-bounds';
import { estimateGroup, FILL, PASS, type Estimate, type Pass } from './estimate';
import { onFlatLine } from './flat-then';

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

/** Whether a ratio reaches a percentage; too close to call makes the estimate inconclusive. */
export function reaches(e: Estimate, ratio: number, percent: number, error: number): boolean {
  const reached = ratio * 100;
  // Nothing and all of it, where an item is open, are known exactly.
  const isKnown = ratio === 0 || (ratio === 1 && error === 0);
  if (!isKnown && Math.abs(reached - percent) <= (error + 4) * U * Math.max(reached, percent)) e.isInconclusive = true;
  return reached >= percent;
}

/** 1 where a decimal of points reaches a percentage of others, 0 where not; NaN: doubles cannot tell exactly. */
export function reachesExactly(earned: number, points: number, percent: number): number {
  const left = Math.round(earned * 10_000) * 1_000_000;
  const right = Math.round(percent * 10_000) * Math.round(points * 10_000);
  if (!(left <= Number.MAX_SAFE_INTEGER && right <= Number.MAX_SAFE_INTEGER)) return NaN;
  return left >= right ? 1 : 0;
}
