/** Figures of a set of values, in the unit of the values. */
export interface Spread {
  count: number;
  mean: number;
  median: number;
  /** A quarter of the values lie below the first, a quarter above the second. */
  lowerQuartile: number;
  upperQuartile: number;
  /** Standard deviation of all of them (divided by their number: they are the class, not a sample of it). */
  deviation: number;
  least: number;
  most: number;
}

/** The value below which a share of sorted values lies, between neighbours by the way one goes from one to the other. */
export function quantile(sorted: readonly number[], share: number): number {
  const at = (sorted.length - 1) * share;
  const below = Math.floor(at);
  const a = sorted[below]!;
  const b = sorted[Math.min(below + 1, sorted.length - 1)]!;
  return a + (b - a) * (at - below);
}

/** What a set of values is like; null where there is none. Values that are no numbers are left out. */
export function spreadOf(values: Iterable<number>): Spread | null {
  const sorted = [...values].filter((v) => !Number.isNaN(v)).sort((a, b) => a - b);
  const count = sorted.length;
  if (count === 0) return null;
  const mean = sorted.reduce((sum, v) => sum + v, 0) / count;
  const squares = sorted.reduce((sum, v) => sum + (v - mean) ** 2, 0);
  return {
    count,
    mean,
    median: quantile(sorted, 0.5),
    lowerQuartile: quantile(sorted, 0.25),
    upperQuartile: quantile(sorted, 0.75),
    deviation: Math.sqrt(squares / count),
    least: sorted[0]!,
    most: sorted[count - 1]!,
  };
}

/**
 * How alike two columns are, −1 to 1 (the product-moment correlation), and the straight line of least squares through
 * their pairs: y = slope × x + base. Null with fewer than three pairs, or where one of them is always the same.
 */
export function alike(
  pairs: readonly (readonly [number, number])[],
): { r: number; slope: number; base: number } | null {
  if (pairs.length < 3) return null;
  const mean = (i: 0 | 1): number => pairs.reduce((sum, p) => sum + p[i], 0) / pairs.length;
  const [mx, my] = [mean(0), mean(1)];
  let xx = 0;
  let yy = 0;
  let xy = 0;
  for (const [x, y] of pairs) {
    xx += (x - mx) ** 2;
    yy += (y - my) ** 2;
    xy += (x - mx) * (y - my);
  }
  if (xx === 0 || yy === 0) return null;
  const slope = xy / xx;
  return { r: Math.max(-1, Math.min(1, xy / Math.sqrt(xx * yy))), slope, base: my - slope * mx };
}
