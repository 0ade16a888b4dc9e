import type { Curve, Scale } from '../book/document';
import { applyCurve } from '../calculation/cells/attempts';
import { fromNumber, toNumber } from '../exact/fraction';

/**
 * Figures that hang on a whole class, found from it as it is and written as ordinary rules. They are chosen figures, not
 * results: four decimals are exact enough, since the rule is worked out exactly from there.
 */
const four = (x: number): number => Math.round(x * 10_000) / 10_000 + 0;

/** A class moved as a whole: what was asked for, kept in a curve's `info`. Points. */
export type ClassTool =
  { tool: 'mean'; mean: number } | { tool: 'spread'; mean: number; spread: number } | { tool: 'root' };

export const meanOf = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

/** The standard deviation of all of them. */
export function spreadOf(values: readonly number[]): number {
  const mean = meanOf(values);
  return Math.sqrt(meanOf(values.map((v) => (v - mean) ** 2)));
}

/**
 * Points added for everybody, so that the mean of what is marked becomes another; who would fall below nothing stands at 0.
 * Null without anything marked.
 */
export function toMean(marked: readonly number[], mean: number): Curve | null {
  const best = [...marked].sort((a, b) => b - a);
  // All share in it, or so many of the best that the least of them does not fall below nothing.
  for (let n = best.length; n > 0; n--) {
    const points = (mean * best.length - best.slice(0, n).reduce((a, b) => a + b, 0)) / n;
    if (n === 1 || best[n - 1]! + points >= 0)
      return { kind: 'add', points: four(points), info: { tool: 'mean', mean } };
  }
  return null;
}

/** A line that gives what is marked another mean and spread. Null where all is marked alike. */
export function toMeanAndSpread(marked: readonly number[], points: number, mean: number, spread: number): Curve | null {
  const [was, wide] = [meanOf(marked), spreadOf(marked)];
  if (marked.length < 2 || wide === 0) return null;
  const slope = spread / wide;
  const end = Math.max(points, ...marked);
  const at = (x: number): number => mean + (x - was) * slope;
  // Below nothing there is nothing: the line begins where it leaves the ground.
  const from = at(0) >= 0 || slope === 0 ? 0 : was - mean / slope;
  return {
    kind: 'line',
    through: [
      [four(from), Math.max(0, four(at(from)))],
      [end, Math.max(0, four(at(end)))],
    ],
    info: { tool: 'spread', mean, spread },
  };
}

/** Ten times the square root of the mark, in percent: exact at whole percents to four decimals, straight between them. */
export function toRoot(points: number): Curve {
  const through = Array.from({ length: 101 }, (_, p): [number, number] => [
    four((p * points) / 100),
    four((10 * Math.sqrt(p) * points) / 100),
  ]);
  return { kind: 'line', through, info: { tool: 'root' } };
}

/** What points marked become; never below 0. Points to at most four decimals. */
export function curved(curve: Curve | null, raw: number, points: number): number {
  return Math.max(0, toNumber(applyCurve(curve, fromNumber(Math.round(raw * 10_000) / 10_000), fromNumber(points))));
}

/** The curve that moves a class as asked for; null where what is marked does not allow it. */
export function curveByTool(tool: ClassTool, marked: readonly number[], points: number): Curve | null {
  switch (tool.tool) {
    case 'mean':
      return toMean(marked, tool.mean);
    case 'spread':
      return toMeanAndSpread(marked, points, tool.mean, tool.spread);
    case 'root':
      return toRoot(points);
  }
}

/** The largest number of a book: what is asked for is bounded like what it comes to. */
const MOST = 1_000_000;
const isAmount = (x: unknown): x is number => typeof x === 'number' && x >= 0 && x <= MOST;

/** What a curve was written by; null: by hand. Its `info` may hold anything. */
export function toolOf(curve: Curve | null | undefined): ClassTool | null {
  const info = curve?.info as Record<string, unknown> | null | undefined;
  if (!curve || typeof info !== 'object' || info === null) return null;
  const { tool, mean, spread } = info;
  if (tool === 'mean' && curve.kind === 'add' && isAmount(mean)) return { tool, mean };
  if (tool === 'spread' && curve.kind === 'line' && isAmount(mean) && isAmount(spread)) return { tool, mean, spread };
  return tool === 'root' && curve.kind === 'line' ? { tool } : null;
}

/** Whether what is marked allows a tool. */
export function allowsTool(tool: ClassTool['tool'], marked: readonly number[]): boolean {
  return tool === 'root' || (tool === 'mean' ? marked.length > 0 : marked.some((m) => m !== marked[0]));
}

/** The shares of the class, percent from the best band down, that a scale's edges were found by; null: they were typed. */
export function sharesOf(scale: Scale): number[] | null {
  const info = scale.info as Record<string, unknown> | null | undefined;
  if (typeof info !== 'object' || info === null || info['tool'] !== 'shares') return null;
  const { shares } = info;
  return Array.isArray(shares) && shares.length === scale.bands.length - 1 && shares.every(isAmount) ? shares : null;
}

/** The smallest step between two edges. */
const STEP = 0.0001;

/**
 * Where bands begin so that the best have the first, the next the second and so on, by shares of the class in percent; who
 * is at one figure is on one side of an edge. `percents`: the figures that are looked up. A last band, from 0, is for all
 * others. Edges fall strictly, so that they are a scale's: a band that nobody is to have lies just above who comes next.
 */
export function edgesByShares(percents: readonly number[], shares: readonly number[]): number[] {
  const sorted = [...percents].sort((a, b) => b - a);
  const edges: number[] = [];
  let share = 0;
  shares.forEach((s, n) => {
    share += s;
    const count = Math.min(sorted.length, Math.round((share * sorted.length) / 100));
    const above = count === 0 ? (sorted[0] ?? 100) + (shares.length - n) * STEP : sorted[count - 1]!;
    const highest = n === 0 ? Infinity : edges[n - 1]! - STEP;
    edges.push(four(Math.max(Math.min(above, highest), (shares.length - n) * STEP)));
  });
  return edges;
}
