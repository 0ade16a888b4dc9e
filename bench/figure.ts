/** One line of the table. `against` says what a ratio is measured against. */
export interface Figure {
  name: string;
  value: number;
  unit: string;
  against: string;
}

export function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

export function p95(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.ceil(sorted.length * 0.95) - 1)]!;
}

/** Milliseconds that `work` takes: the median of `runs`, after a warm-up. */
export function time(work: () => unknown, runs = 7): number {
  work();
  return median(
    Array.from({ length: runs }, () => {
      const from = performance.now();
      work();
      return performance.now() - from;
    }),
  );
}

export const round = (value: number): number =>
  Math.abs(value) >= 100 ? Math.round(value) : Number(value.toPrecision(3));
