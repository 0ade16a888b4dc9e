import type { Attempt, AttemptsRule, AttemptUse, Curve } from '../../book/document';
import {
  add,
  compare,
  divide,
  fraction,
  fromNumber,
  greatest,
  least,
  multiply,
  ONE,
  percent,
  subtract,
  ZERO,
  type Fraction,
} from '../../exact/fraction';
import { exactLine, onLine } from '../../exact/line';
import type { CompiledItem } from '../compiled/compiled';
import { lateness, type Lateness, type LateTerms } from './lateness';

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
  use: AttemptUse;
  /** The attempt that counts; null where several make the value together. */
  chosen: AttemptValue | null;
  value: Fraction;
}

export const isScored = (a: Attempt): boolean => a.score !== undefined || a.mark !== undefined;

/** The values of the scored attempts and the one that counts. `attempts` holds at least one scored attempt. */
export function attemptsValue(zone: string, item: CompiledItem, terms: LateTerms, attempts: Attempt[]): AttemptsValue {
  const values = attempts.flatMap((a, i) => (isScored(a) ? [attemptValue(zone, item, terms, a, i + 1)] : []));
  const rule = item.source.attempts ?? {};
  const use = rule.use ?? 'best';
  if (use === 'mean' || use === 'decaying' || use === 'regain') return together(values, use, rule);
  let chosen = values[0]!;
  if (use === 'latest') chosen = values[values.length - 1]!;
  if (use === 'best') for (const v of values) if (compare(v.value, chosen.value) > 0) chosen = v;
  return { values, use, chosen, value: chosen.value };
}

/** A value that several attempts make together; of one alone it is that. */
function together(values: AttemptValue[], use: 'mean' | 'decaying' | 'regain', rule: AttemptsRule): AttemptsValue {
  const [first, ...later] = values as [AttemptValue, ...AttemptValue[]];
  if (later.length === 0) return { values, use, chosen: first, value: first.value };
  if (use === 'mean') {
    const sum = values.reduce((total, v) => add(total, v.value), ZERO);
    return { values, use, chosen: null, value: divide(sum, fraction(values.length)) };
  }
  if (use === 'decaying') {
    const newest = percent(rule.newest!);
    const before = subtract(ONE, newest);
    const value = later.reduce((was, v) => add(multiply(newest, v.value), multiply(before, was)), first.value);
    return { values, use, chosen: null, value };
  }
  const best = later.map((v) => v.value).reduce(greatest);
  const above = subtract(best, first.value);
  // Nothing to win back: the first stands as it is.
  if (compare(above, ZERO) <= 0) return { values, use, chosen: first, value: first.value };
  return { values, use, chosen: null, value: add(first.value, multiply(percent(rule.regain!), above)) };
}

/** The cap of an attempt in percent of the points; undefined: none. `number`: counted from 1. */
export function retakeCapOf({ retakeCap }: AttemptsRule, number: number): number | undefined {
  if (number < 2) return undefined;
  return Array.isArray(retakeCap) ? retakeCap[Math.min(number - 2, retakeCap.length - 1)] : retakeCap;
}

function attemptValue(
  zone: string,
  item: CompiledItem,
  terms: LateTerms,
  source: Attempt,
  number: number,
): AttemptValue {
  const raw =
    source.mark === undefined ? fromNumber(source.score!) : multiply(item.marks!.get(source.mark)!, item.points);
  const curved = greatest(applyCurve(item.source.curve ?? null, raw, item.points), ZERO);
  const late = lateness(zone, item.late, terms, source);
  let deduction = ZERO;
  let afterLate = curved;
  let floored = false;
  if (late) {
    const base = item.late!.rule.of === 'earned' ? curved : item.points;
    deduction = divide(multiply(late.percent, base), fraction(100));
    const floor = late.closed ? ZERO : item.late!.floor;
    const least_ = least(curved, multiply(floor, item.points));
    const taken = subtract(curved, deduction);
    floored = compare(taken, least_) < 0;
    afterLate = greatest(taken, least_);
  }
  const most = retakeCapOf(item.source.attempts ?? {}, number);
  const cap = most === undefined ? null : multiply(percent(most), item.points);
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
  return onLine(exactLine(curve.through), raw);
}
