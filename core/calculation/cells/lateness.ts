import type { Attempt, LateRule } from '../../book/document';
import { compare, fraction, fromNumber, least, multiply, percent, type Fraction } from '../../exact/fraction';
import type { CompiledItem } from '../compiled/compiled';
import { DAY, HOUR } from '../../time/local-days';
import { hoursToMillis, minutesToMillis, parseDate, parseMoment } from '../../time/moment';
import { makeSkips, skippedMillis, type Skips } from '../../time/skipped-days';

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
  /** Late units that every student may spend, with the items that the rule is of, in book order. */
  bank: { units: number; perItem: number; items: CompiledItem[] } | null;
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
    bank: rule.bank ? { units: rule.bank.units, perItem: rule.bank.perItem ?? Infinity, items: [] } : null,
  };
}

/** What lateness is worked out from: the dates of a student on an item, in milliseconds (`closes` null: it never does). */
export interface LateTerms {
  due: number | null;
  closes: number | null;
  /** Late units that the bank gives each of the item's attempts. */
  bank: number;
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
  /** How many of them the bank gives: they cost nothing. */
  fromBank: number;
  /** What the rule asks before `max`, and what it takes after it, both in percent. */
  asked: Fraction;
  percent: Fraction;
  /** It came after it closed: no floor holds, and `asked` and `percent` are what that takes where it is more. */
  closed: { at: number; isMore: boolean } | null;
}

/** Null where the attempt is not late, or no rule applies. */
export function lateness(
  zone: string,
  late: CompiledLate | null,
  { due, closes, bank }: LateTerms,
  attempt: Attempt,
): Lateness | null {
  if (!late || attempt.onTime) return null;
  if (!isAfterClosing(late, closes, attempt)) return usualLateness(zone, late, due, attempt, bank);
  const byClock = usualLateness(zone, late, due, attempt, 0);
  const most = late.afterCloses!;
  if (byClock && compare(byClock.percent, most) >= 0) return { ...byClock, closed: { at: closes!, isMore: false } };
  const none = { counted: null, skipped: 0, units: null, unit: late.rule.unit ?? 'day', fromBank: 0 } as const;
  return { ...(byClock ?? none), asked: most, percent: most, closed: { at: closes!, isMore: true } };
}

/** True where the clock says that an attempt came after it closed, and the rule has something to say to that. */
export const isAfterClosing = (late: CompiledLate, closes: number | null, attempt: Attempt): boolean =>
  late.afterCloses !== null &&
  closes !== null &&
  !attempt.onTime &&
  attempt.lateUnits === undefined &&
  attempt.receivedAt !== undefined &&
  parseMoment(attempt.receivedAt)! > closes;

/** The same without what closing makes of it. */
function usualLateness(
  zone: string,
  late: CompiledLate,
  due: number | null,
  attempt: Attempt,
  bank: number,
): Lateness | null {
  const unit = late.rule.unit ?? 'day';
  if (attempt.lateUnits !== undefined) {
    const units = attempt.lateUnits;
    if (units === 0) return null;
    const asked = late.steps ? stepDeduction(late, units * DAY) : multiply(late.deduct!, fraction(units));
    const percent = least(asked, late.max);
    return { counted: null, skipped: 0, units, unit, fromBank: 0, asked, percent, closed: null };
  }
  const clock = clockLateness(zone, late, due, attempt);
  if (clock === null) return null;
  const { counted, skipped } = clock;
  const units = late.steps ? null : Math.ceil(counted / late.unitMillis);
  const fromBank = units === null ? 0 : Math.min(bank, units);
  const asked = late.steps ? stepDeduction(late, counted) : multiply(late.deduct!, fraction(units! - fromBank));
  return { counted, skipped, units, unit, fromBank, asked, percent: least(asked, late.max), closed: null };
}

/** How late an attempt is by the clock, in milliseconds; null: it is not, or the clock has no say. */
export function clockLateness(
  zone: string,
  late: CompiledLate,
  due: number | null,
  attempt: Attempt,
): { counted: number; skipped: number } | null {
  if (due === null || attempt.receivedAt === undefined) return null;
  const received = parseMoment(attempt.receivedAt)!;
  if (received <= due) return null;
  const skipped = skippedMillis(zone, due, received, late.skips);
  const counted = received - due - skipped;
  return counted <= late.graceMillis ? null : { counted, skipped };
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
