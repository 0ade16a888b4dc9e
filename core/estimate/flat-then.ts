import type { Line, Then } from '../book/document';

/** A line in doubles, with what it may make of a relative error: at most so many times as much. */
export interface FlatLine {
  x: Float64Array;
  y: Float64Array;
  amplifies: number;
}

export type FlatThen =
  | { kind: 'step'; step: number; mode: 'half-up' | 'half-even' | 'down' }
  | { kind: 'through'; line: FlatLine }
  | { kind: 'steps'; from: Float64Array; gives: Float64Array };

export function flatThen(then: Then | null | undefined): FlatThen | null {
  if (!then) return null;
  if (then.through) return { kind: 'through', line: flatLine(then.through)! };
  if (then.steps)
    return {
      kind: 'steps',
      from: Float64Array.from(then.steps, ([from]) => from),
      gives: Float64Array.from(then.steps, ([, gives]) => gives),
    };
  return { kind: 'step', step: then.step!, mode: then.mode! };
}

export function flatLine(through: Line | undefined): FlatLine | null {
  if (through === undefined) return null;
  let amplifies = 0;
  for (let i = 1; i < through.length; i++) {
    const [[x1, y1], [x2, y2]] = [through[i - 1]!, through[i]!];
    if (y1 === y2) continue;
    const slope = Math.abs(y2 - y1) / (x2 - x1);
    // Slope × x / y is greatest at an end of the piece, and the slope of y / x itself where the piece begins at nothing.
    const at = (x: number, y: number): number => (x === 0 && y === 0 ? 1 : (slope * x) / y);
    amplifies = Math.max(amplifies, at(x1, y1), at(x2, y2));
  }
  return {
    x: Float64Array.from(through, ([x]) => x),
    y: Float64Array.from(through, ([, y]) => y),
    amplifies,
  };
}

/** The line in doubles. */
export function onFlatLine({ x, y }: FlatLine, at: number): number {
  const last = x.length - 1;
  if (at <= x[0]!) return y[0]!;
  if (at >= x[last]!) return y[last]!;
  let i = 1;
  while (at > x[i]!) i++;
  const share = (at - x[i - 1]!) / (x[i]! - x[i - 1]!);
  // Both terms are never negative, so that nothing is lost by taking away.
  return y[i - 1]! * (1 - share) + y[i]! * share;
}
