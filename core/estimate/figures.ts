import { KIND } from '../calculation/cells/cells';
import type { CompiledBook, CompiledItem, CompiledNode } from '../calculation/compiled/compiled';
import { failedCount, isNode, type CompiledCount, type OtherHurdle } from '../calculation/hurdles';
import { bandOf } from '../calculation/letters';
import { fromNumber, toNumber } from '../exact/fraction';
import { scaledInteger, type RoundingMode } from '../exact/rounding';
import { U } from './choose-drops';
import { ERROR_ITEM } from './error-bounds';
import { estimateAlso, itemRatio, PASS, type Estimate, type Pass } from './estimate';
import { reachesExactly } from './thresholds';

/**
 * A percentage: `scaled` is the rounded figure × 10^decimals, whole; `at` the double before rounding, at most `off` from
 * the truth. NaN: none.
 */
export interface Figure {
  scaled: number;
  at: number;
  off: number;
}

export const POWERS = [1, 10, 100, 1_000, 10_000];
const LARGEST = 2 ** 50;

/**
 * The final percentage of an estimated student in one pass (contract, sections 6 to 8), rounded. False: a hurdle, a
 * rounding or a band is too close to call, and the student must be worked out in fractions.
 */
export function finalFigure(compiled: CompiledBook, e: Estimate, pass: Pass, into: Figure): boolean {
  const override = compiled.overrides.size === 0 ? undefined : compiled.overrides.get(compiled.students[e.student]!.id);
  const { decimals, mode } = compiled.book.rounding;
  if (override?.percent !== undefined) {
    into.at = override.percent;
    into.off = 0;
    into.scaled = Number(scaledInteger(fromNumber(override.percent), decimals, mode));
    return true;
  }
  const ratio = e.ratio[pass * compiled.groups.length]!;
  into.off = 0;
  into.at = into.scaled = NaN;
  if (Number.isNaN(ratio)) return true;
  into.at = ratio * 100;
  into.off = into.at * (e.variant.flat.errorRatio[0]! + 8) * U;
  if (!holdAtFigures(compiled, e, pass, into)) return false;
  const { others, counts } = e.variant.hurdles;
  for (const h of others) {
    if (h.capAt === null) continue;
    const fails = failing(compiled, e, pass, h);
    if (fails === null) return false;
    if (fails) holdAt(compiled, e, pass, h.capAt, into);
  }
  if (counts.length > 0 && !takeCounts(compiled, e, counts, into)) return false;
  if (e.isInconclusive) return false;
  into.scaled = roundSurely(into.at * POWERS[decimals]!, into.off * POWERS[decimals]!, mode);
  return !Number.isNaN(into.scaled);
}

/** The hurdles that hold at a figure, node by node. */
function holdAtFigures(compiled: CompiledBook, e: Estimate, pass: Pass, into: Figure): boolean {
  for (const h of e.variant.hurdles.byNode) {
    const reached = reachedIn(compiled, e, pass, h.node);
    if (Number.isNaN(reached)) continue;
    let close = false;
    const failed = failedCount(h, (k) => {
      const below = isBelow(compiled, e, pass, h.node, reached, h.atLeast[k]!);
      if (below === null) close = true;
      return below ?? false;
    });
    if (close) return false;
    if (failed > 0) into.at = Math.min(into.at, h.capAt[failed - 1]!);
  }
  return true;
}

function holdAt(
  compiled: CompiledBook,
  e: Estimate,
  pass: Pass,
  cap: NonNullable<OtherHurdle['capAt']>,
  into: Figure,
): void {
  const at = isNode(cap) ? reachedIn(compiled, e, pass, cap) : toNumber(cap);
  if (Number.isNaN(at)) return;
  if (isNode(cap)) into.off = Math.max(into.off, at * (errorOf(e, cap) + 1) * U);
  into.at = Math.min(into.at, at);
}

/** Whether a hurdle fails; null: too close to call. */
export function failing(
  compiled: CompiledBook,
  e: Estimate,
  pass: Pass,
  { node, atLeast }: OtherHurdle,
): boolean | null {
  if (atLeast === null) return !isHandedIn(compiled, e, pass, (node as CompiledItem).index);
  const reached = reachedIn(compiled, e, pass, node);
  if (Number.isNaN(reached)) return false;
  return isBelow(compiled, e, pass, node, reached, toNumber(atLeast));
}

/** Whether what a node has reached lies below a percentage; null: too close to call. */
function isBelow(
  compiled: CompiledBook,
  e: Estimate,
  pass: Pass,
  node: CompiledNode,
  reached: number,
  atLeast: number,
): boolean | null {
  const off = errorOf(e, node) * U * reached + U * atLeast;
  if (Math.abs(reached - atLeast) >= off) return reached < atLeast;
  const known = reachesSurely(compiled, e, pass, node, reached, atLeast);
  return Number.isNaN(known) ? null : known === 0;
}

/** Where whole numbers tell: 1 where it reaches the percentage, 0 where not; NaN: they do not. */
function reachesSurely(
  compiled: CompiledBook,
  e: Estimate,
  pass: Pass,
  node: CompiledNode,
  reached: number,
  atLeast: number,
): number {
  if (node.type === 'group') return NaN;
  if (node.type === 'also') {
    const at = pass * compiled.alsos.length + node.index;
    if (node.reaching !== null) return reachesExactly(e.reached[at]!, e.asked[at]!, atLeast);
    // All or nothing.
    return node.from === null ? NaN : reached >= atLeast ? 1 : 0;
  }
  const cell = e.student * compiled.cells.width + node.index;
  const kind = compiled.cells.kind[cell]!;
  // In low and high what is open is nothing, or all of it.
  if (kind & KIND.open) return reached >= atLeast ? 1 : 0;
  return kind & KIND.isExact ? NaN : reachesExactly(compiled.cells.earned[cell]!, node.source.points, atLeast);
}

const [AWAITING, MISSING, PENDING] = [1, 2, 3];

function isHandedIn(compiled: CompiledBook, e: Estimate, pass: Pass, i: number): boolean {
  const kind = compiled.cells.kind[e.student * compiled.cells.width + i]!;
  const state = kind & KIND.state;
  if (pass !== PASS.now && kind & KIND.open) return state === PENDING || pass === PASS.high;
  return state !== MISSING && !(state === AWAITING && compiled.closing);
}

/** Takes off what is counted. False: doubles cannot tell how often. */
function takeCounts(compiled: CompiledBook, e: Estimate, counts: readonly CompiledCount[], into: Figure): boolean {
  let taken = 0;
  for (const c of counts) {
    if (c.percent === null) continue;
    const times = timesIn(compiled, e, c);
    if (Number.isNaN(times)) return false;
    taken += times * toNumber(c.percent);
  }
  into.off += (into.at + taken) * (counts.length + 3) * U;
  into.at = Math.max(0, into.at - taken);
  return true;
}

/** How often a count takes off; NaN: doubles cannot tell. */
export function timesIn(compiled: CompiledBook, e: Estimate, { item, over, each, most }: CompiledCount): number {
  const at = e.student * compiled.cells.width + item.index;
  const kind = compiled.cells.kind[at]!;
  if (kind & KIND.skipped) return 0;
  if (kind & KIND.isExact) return NaN;
  const whole = (x: number): number => Math.round(x * 10_000);
  const above = whole(compiled.cells.earned[at]!) - whole(toNumber(over));
  // Both whole, and a quotient that close to a whole number is one.
  const times = above <= 0 ? 0 : Math.ceil(above / whole(toNumber(each)));
  return most === null ? times : Math.min(times, most);
}

/** Rounds x, which is off by at most `off`, to a whole number; NaN: not every figure that near rounds alike. */
export function roundSurely(x: number, off: number, mode: RoundingMode): number {
  if (x > LARGEST) return NaN;
  const shift = mode === 'down' ? 0 : 0.5;
  // Of nothing there is nothing below.
  const below = Math.max(0, Math.floor(x - off + shift));
  const above = Math.floor(x + off + shift);
  // At a tie of half-even, and at the very edge of the others, the two differ or x + shift is whole itself.
  if (below !== above || (off !== 0 && Number.isInteger(x - off + shift))) return NaN;
  return below;
}

/** What a hurdle's node has reached in percent; NaN where it is skipped or waits. */
function reachedIn(compiled: CompiledBook, e: Estimate, pass: Pass, node: CompiledNode): number {
  if (node.type === 'group') {
    if (pass === PASS.now && e.openBelow[node.index] === 1) return NaN;
    return e.ratio[pass * compiled.groups.length + node.index]! * 100;
  }
  if (node.type === 'also') {
    const open = estimateAlso(compiled, e, node.index, pass) & 1;
    if (pass === PASS.now && open === 1) return NaN;
    return e.alsoRatio[pass * compiled.alsos.length + node.index]! * 100;
  }
  const kind = compiled.cells.kind[e.student * compiled.cells.width + node.index]!;
  return pass === PASS.now && kind & KIND.open ? NaN : itemRatio(compiled, e, node.index, pass) * 100;
}

function errorOf({ variant: { flat } }: Estimate, node: CompiledNode): number {
  if (node.type === 'item') return ERROR_ITEM + 2;
  return (node.type === 'group' ? flat.errorRatio : flat.alsoError)[node.index]! + 2;
}

/**
 * The band of a figure, by its number in the student's scale; −1 without a scale or a figure, −2 where it is too close
 * to call.
 */
export function bandOfFigure(compiled: CompiledBook, e: Estimate, figure: Figure): number {
  const { scale } = e.variant;
  if (scale === null || Number.isNaN(figure.scaled)) return -1;
  if (!scale.exact) {
    // Both sides whole: the rounded figure and the bounds in ten-thousandths of a percent.
    const scaled = figure.scaled * POWERS[4 - compiled.book.rounding.decimals]!;
    return bandOf(scale, (band) => scaled >= scale.from[band]!);
  }
  const isKnown = figure.off === 0;
  let close = false;
  const band = bandOf(scale, (b) => {
    const from = scale.from[b]! / 10_000;
    if (!isKnown && Math.abs(figure.at - from) < figure.off + U * from) close = true;
    return figure.at >= from;
  });
  return close ? -2 : band;
}

/** The rounded figure as a text with its decimals; null where there is none. */
export function figureText(scaled: number, decimals: number): string | null {
  if (Number.isNaN(scaled)) return null;
  const digits = String(scaled);
  if (decimals === 0) return digits;
  const padded = digits.padStart(decimals + 1, '0');
  return `${padded.slice(0, -decimals)}.${padded.slice(-decimals)}`;
}
