import { add, compare, divide, fromNumber, multiply, subtract, type Fraction } from './fraction';

/** A piecewise straight line in fractions: level before the first and after the last point (contract, section 4). */
export type ExactLine = (readonly [Fraction, Fraction])[];

export const exactLine = (through: readonly [number, number][]): ExactLine =>
  through.map(([x, y]) => [fromNumber(x), fromNumber(y)] as const);

export function onLine(line: ExactLine, x: Fraction): Fraction {
  if (compare(x, line[0]![0]) <= 0) return line[0]![1];
  for (let i = 1; i < line.length; i++) {
    const [x1, y1] = line[i - 1]!;
    const [x2, y2] = line[i]!;
    if (compare(x, x2) <= 0) return add(y1, divide(multiply(subtract(y2, y1), subtract(x, x1)), subtract(x2, x1)));
  }
  return line[line.length - 1]![1];
}
