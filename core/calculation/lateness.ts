import type { Attempt, LateRule } from '../book/document';
import { compare, fraction, fromNumber, least, multiply, percent, type Fraction } from '../exact/fraction';
import { DAY, HOUR } from '../time/local-days';
import { hoursToMillis, minutesToMillis, parseDate, parseMoment } from '../time/moment';
import { makeSkips, skippedMillis, type Skips } from '../time/skipped-days';

/** A late rule, resolved once (contract, section 4.1). `steps` null: it deducts by units. */
export interface CompiledLate {
  rule: LateRule;
  skips: Skips | null;
  graceMillis: number;
  unitMillis: number;
  deduct: Fraction | null;
  steps: { millis: number; deduct: Fraction }[] | null;
  after: Fraction | null;
  max: Fraction;
  /** Percent of what comes after the closing date; null: closing plays no part. */
  afterCloses: Fraction | null;
  /** Of one. */
  floor: Fraction;
}

export function compileLate(rule: LateRule): CompiledLate {
  return {
    rule,
    skips: makeSkips(
      rule.skipDays ?? [],
      (rule.skipDates ?? []).map((d) => parseDate(d)!),
    ),
    graceMillis: minutesToMillis(rule.graceMinutes ?? 0),
    unitMillis: rule.unit === 'hour' ? HOUR : DAY,
    deduct: rule.deduct === undefined ? null : fromNumber(rule.deduct),
    steps: rule.steps?.map((s) => ({ millis: hoursToMillis(s.hours), deduct: fromNumber(s.deduct) })) ?? null,
    after: rule.after === undefined ? null : fromNumber(rule.after),
    max: fromNumber(rule.max ?? 100),
    afterCloses: rule.afterCloses === undefined ? null : fromNumber(rule.afterCloses),
    floor: percent(rule.floor ?? 0),
  };
}

/** How late an attempt is and what its rule takes, in percent (contract, section 4.1). */
export interface Lateness {
  /** Milliseconds from due to received that count; null where lateness was stated by hand. */
  counted: number | null;
  /** Milliseconds left out as skipped days. */
  skipped: number;
  /** Started units (hours or days), or null for a rule in steps that goes by the clock. */
  units: number | null;
  unit: 'hour' | 'day';
  /** What the rule asks before `max`, and what it takes after it, both in percent. */
  asked: Fraction;
  percent: Fraction;
  /** It came after it closed: no floor holds, and `asked` and `percent` are what that takes where it is more. */
  closed: { at: number; isMore: boolean } | null;
}

/** Null where the attempt is not late, or no rule applies. Dates in milliseconds; `closes` null: it never does. */
export function lateness(
  zone: string,
  late: CompiledLate | null,
  due: number | null,
  closes: number | null,
  attempt: Attempt,
): Lateness | null {
  if (!late || attempt.onTime) return null;
  const byClock = usualLateness(zone, late, due, attempt);
  const most = late.afterCloses;
  if (most === null || closes === null || attempt.lateUnits !== undefined || attempt.receivedAt === undefined)
    return byClock;
  if (parseMoment(attempt.receivedAt)! <= closes) return byClock;
  if (byClock && compare(byClock.percent, most) >= 0) return { ...byClock, closed: { at: closes, isMore: false } };
  const none = { counted: null, skipped: 0, units: null, unit: late.rule.unit ?? 'day' } as const;
  return { ...(byClock ?? none), asked: most, percent: most, closed: { at: closes, isMore: true } };
}

/** The same without what closing makes of it. */
function usualLateness(zone: string, late: CompiledLate, due: number | null, attempt: Attempt): Lateness | null {
  const unit = late.rule.unit ?? 'day';
  if (attempt.lateUnits !== undefined) {
    const units = attempt.lateUnits;
    if (units === 0) return null;
    const asked = late.steps ? stepDeduction(late, units * DAY) : multiply(late.deduct!, fraction(units));
    return { counted: null, skipped: 0, units, unit, asked, percent: least(asked, late.max), closed: null };
  }
  if (due === null || attempt.receivedAt === undefined) return null;
  const received = parseMoment(attempt.receivedAt)!;
  if (received <= due) return null;
  const skipped = skippedMillis(zone, due, received, late.skips);
  const counted = received - due - skipped;
  if (counted <= late.graceMillis) return null;
  const units = late.steps ? null : Math.ceil(counted / late.unitMillis);
  const asked = late.steps ? stepDeduction(late, counted) : multiply(late.deduct!, fraction(units!));
  return { counted, skipped, units, unit, asked, percent: least(asked, late.max), closed: null };
}

/** The first step whose hours the lateness does not exceed, else `after`. Steps rise, so halving finds it. */
function stepDeduction(late: CompiledLate, counted: number): Fraction {
  const steps = late.steps!;
  let low = 0;
  let high = steps.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (steps[middle]!.millis < counted) low = middle + 1;
    else high = middle;
  }
  return low < steps.length ? steps[low]!.deduct : late.after!;
}
