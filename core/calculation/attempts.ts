import type { Attempt, Curve } from '../book/document';
import {
  add,
  compare,
  divide,
  fraction,
  fromNumber,
  greatest,
  least,
  multiply,
  percent,
  subtract,
  ZERO,
  type Fraction,
} from '../exact/fraction';
import type { CompiledItem } from './compile';
import { lateness, type Lateness } from './lateness';

/** One scored attempt, step by step (contract, section 4). Points throughout. */
export interface AttemptValue {
  /** Counted from 1. */
  number: number;
  source: Attempt;
  raw: Fraction;
  curved: Fraction;
  late: Lateness | null;
  deduction: Fraction;
  /** What the floor of the late rule kept from being taken. */
  floored: boolean;
  afterLate: Fraction;
  /** The retake cap in points where one applies to this attempt; `capped` where it took something. */
  cap: Fraction | null;
  capped: boolean;
  value: Fraction;
}

export interface AttemptsValue {
  values: AttemptValue[];
  use: 'best' | 'latest' | 'first' | 'mean';
  /** The attempt that counts; null where the mean of all does. */
  chosen: AttemptValue | null;
  value: Fraction;
}

export const isScored = (a: Attempt): boolean => a.score !== undefined || a.mark !== undefined;

/** The values of the scored attempts and the one that counts. `attempts` holds at least one scored attempt. */
export function attemptsValue(
  zone: string,
  item: CompiledItem,
  due: number | null,
  attempts: Attempt[],
): AttemptsValue {
  const values = attempts.flatMap((a, i) => (isScored(a) ? [attemptValue(zone, item, due, a, i + 1)] : []));
  const use = item.source.attempts?.use ?? 'best';
  if (use === 'mean') {
    const sum = values.reduce((total, v) => add(total, v.value), ZERO);
    return {
      values,
      use,
      chosen: values.length === 1 ? values[0]! : null,
      value: divide(sum, fraction(values.length)),
    };
  }
  let chosen = values[0]!;
  if (use === 'latest') chosen = values[values.length - 1]!;
  if (use === 'best') for (const v of values) if (compare(v.value, chosen.value) > 0) chosen = v;
  return { values, use, chosen, value: chosen.value };
}

function attemptValue(
  zone: string,
  item: CompiledItem,
  due: number | null,
  source: Attempt,
  number: number,
): AttemptValue {
  const raw =
    source.mark === undefined ? fromNumber(source.score!) : multiply(item.marks!.get(source.mark)!, item.points);
  const curved = greatest(applyCurve(item.source.curve ?? null, raw, item.points), ZERO);
  const late = lateness(zone, item.late, due, source);
  let deduction = ZERO;
  let afterLate = curved;
  let floored = false;
  if (late) {
    const base = item.late!.rule.of === 'earned' ? curved : item.points;
    deduction = divide(multiply(late.percent, base), fraction(100));
    const least_ = least(curved, multiply(item.late!.floor, item.points));
    const taken = subtract(curved, deduction);
    floored = compare(taken, least_) < 0;
    afterLate = greatest(taken, least_);
  }
  const retakeCap = item.source.attempts?.retakeCap;
  const cap = number >= 2 && retakeCap !== undefined ? multiply(percent(retakeCap), item.points) : null;
  const capped = cap !== null && compare(afterLate, cap) > 0;
  return {
    number,
    source,
    raw,
    curved,
    late,
    deduction,
    floored,
    afterLate,
    cap,
    capped,
    value: capped ? cap! : afterLate,
  };
}

/** A curve on raw points; may be below 0, which the caller lifts to 0. */
export function applyCurve(curve: Curve | null, raw: Fraction, points: Fraction): Fraction {
  if (curve === null) return raw;
  if (curve.kind === 'add') return add(raw, fromNumber(curve.points));
  if (curve.kind === 'top') return divide(multiply(raw, points), fromNumber(curve.at));
  const line = curve.through.map(([x, y]) => [fromNumber(x), fromNumber(y)] as const);
  if (compare(raw, line[0]![0]) <= 0) return line[0]![1];
  for (let i = 1; i < line.length; i++) {
    const [x1, y1] = line[i - 1]!;
    const [x2, y2] = line[i]!;
    if (compare(raw, x2) <= 0) return add(y1, divide(multiply(subtract(y2, y1), subtract(raw, x1)), subtract(x2, x1)));
  }
  return line[line.length - 1]![1];
}
