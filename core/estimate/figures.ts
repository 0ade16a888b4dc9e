import { fromNumber } from '../exact/fraction';
import { scaledInteger } from '../exact/rounding';
import { KIND } from '../calculation/cells';
import type { CompiledBook } from '../calculation/compile';
import { PASS, type Estimate, type Pass } from './estimate';
import { U } from './choose-drops';
import { ERROR_EARNED } from './flat-tree';
import { failedCount, type NodeHurdles } from '../calculation/hurdles';
import { bandOf } from '../calculation/letters';

/** A percentage: `scaled` is the rounded figure × 10^decimals, whole; `at` the double before rounding. NaN: none. */
export interface Figure {
  scaled: number;
  at: number;
}

const POWERS = [1, 10, 100, 1_000, 10_000];
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
    into.scaled = Number(scaledInteger(fromNumber(override.percent), decimals, mode));
    return true;
  }
  const ratio = e.ratio[pass * compiled.groups.length]!;
  if (Number.isNaN(ratio)) {
    into.at = into.scaled = NaN;
    return true;
  }
  let percent = ratio * 100;
  for (const h of compiled.hurdles) {
    const reached = reachedIn(compiled, e, pass, h);
    if (Number.isNaN(reached)) continue;
    const off = errorOf(compiled, h) * U * reached;
    let close = false;
    const failed = failedCount(h, (k) => {
      if (Math.abs(reached - h.atLeast[k]!) < off + U * h.atLeast[k]!) close = true;
      return reached < h.atLeast[k]!;
    });
    if (close) return false;
    if (failed > 0) percent = Math.min(percent, h.capAt[failed - 1]!);
  }
  into.at = percent;
  return round(percent * POWERS[decimals]!, mode, (compiled.flat.errorRatio[0]! + 8) * U, into);
}

/** Rounds x, which is off by at most `error` × x, where every figure that near rounds alike. */
function round(x: number, mode: 'half-up' | 'half-even' | 'down', error: number, into: Figure): boolean {
  if (x > LARGEST) return false;
  const off = x * error;
  // Only a sum of nothing is 0, and that is exact.
  const shift = mode === 'down' ? 0 : 0.5;
  const below = Math.floor(x - off + shift);
  const above = Math.floor(x + off + shift);
  // At a tie of half-even, and at the very edge of the others, the two differ or x + shift is whole itself.
  if (below !== above || (x !== 0 && Number.isInteger(x - off + shift))) return false;
  into.scaled = below;
  return true;
}

/** What a hurdle's node has reached in percent; NaN where it is skipped or waits. */
function reachedIn(compiled: CompiledBook, e: Estimate, pass: Pass, h: NodeHurdles): number {
  const { node } = h;
  if (node.type === 'group') {
    if (pass === PASS.now && e.openBelow[node.index] === 1) return NaN;
    return e.ratio[pass * compiled.groups.length + node.index]! * 100;
  }
  const at = e.student * compiled.cells.width + node.index;
  const kind = compiled.cells.kind[at]!;
  if (kind & KIND.open) return pass === PASS.now ? NaN : pass === PASS.low ? 0 : 100;
  if (kind & KIND.skipped) return NaN;
  return (compiled.cells.earned[at]! / node.source.points) * 100;
}

const errorOf = (compiled: CompiledBook, h: NodeHurdles): number =>
  (h.node.type === 'group' ? compiled.flat.errorRatio[h.node.index]! : ERROR_EARNED + 2) + 2;

/**
 * The band of a figure, by its number in the compiled scale; −1 without a scale or a figure, −2 where it is too close
 * to call.
 */
export function bandOfFigure(compiled: CompiledBook, figure: Figure, overridden: boolean): number {
  const { scale } = compiled;
  if (scale === null || Number.isNaN(figure.scaled)) return -1;
  if (!scale.exact) {
    // Both sides whole: the rounded figure and the bounds in ten-thousandths of a percent.
    const scaled = figure.scaled * POWERS[4 - compiled.book.rounding.decimals]!;
    return bandOf(scale, (band) => scaled >= scale.from[band]!);
  }
  const off = overridden ? 0 : figure.at * (compiled.flat.errorRatio[0]! + 3) * U;
  let close = false;
  const band = bandOf(scale, (b) => {
    const from = scale.from[b]! / 10_000;
    if (!overridden && Math.abs(figure.at - from) < off + U * from) close = true;
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
