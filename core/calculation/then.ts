import type { Then } from '../book/document';
import { compare, divide, fraction, fromNumber, HUNDRED, multiply, ZERO, type Fraction } from '../exact/fraction';
import { exactLine, onLine, type ExactLine } from '../exact/line';
import { scaledInteger, type RoundingMode } from '../exact/rounding';

/** What a group's ratio becomes before it goes on (contract, 5.1, step 4). */
export type CompiledThen =
  | { kind: 'step'; step: Fraction; mode: RoundingMode }
  | { kind: 'through'; line: ExactLine }
  | { kind: 'steps'; steps: { from: Fraction; gives: Fraction }[] };

export function compileThen(then: Then | null | undefined): CompiledThen | null {
  if (!then) return null;
  if (then.through) return { kind: 'through', line: exactLine(then.through) };
  if (then.steps)
    return { kind: 'steps', steps: then.steps.map(([from, gives]) => ({ from: fromNumber(from), gives: fromNumber(gives) })) }; // prettier-ignore
  return { kind: 'step', step: fromNumber(then.step!), mode: then.mode! };
}

/** Of one, in and out. */
export function applyThen(then: CompiledThen, ratio: Fraction): Fraction {
  const percent = multiply(ratio, HUNDRED);
  if (then.kind === 'through') return divide(onLine(then.line, percent), HUNDRED);
  if (then.kind === 'step') return divide(toMultiple(percent, then.step, then.mode), HUNDRED);
  let gives = ZERO;
  for (const s of then.steps) if (compare(percent, s.from) >= 0) gives = s.gives;
  return divide(gives, HUNDRED);
}

/** The multiple of a step that a figure is rounded to. */
export const toMultiple = (x: Fraction, step: Fraction, mode: RoundingMode): Fraction =>
  multiply(fraction(scaledInteger(divide(x, step), 0, mode)), step);
