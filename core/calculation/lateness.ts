import type { Attempt } from '../book/document';
import { fraction, fromNumber, least, multiply, ZERO, type Fraction } from '../exact/fraction';
import type { CompiledLate } from './compile';
import { DAY, HOUR, skippedMillis } from './local-days';
import { parseMoment } from './moment';

/** How late an attempt is and what its rule takes, in percent (contract, section 4.1). */
export interface Lateness {
  /** Milliseconds from due to received that count; null where lateness was stated by hand. */
  counted: number | null;
  /** Milliseconds left out as skipped days. */
  skipped: number;
  /** Started units (hours or days), or null for a rule in steps. */
  units: number | null;
  unit: 'hour' | 'day';
  /** By the clock, or said by hand. */
  source: 'clock' | 'stated';
  /** What the rule asks before `max`, and what it takes after it, both in percent. */
  asked: Fraction;
  percent: Fraction;
}

/** Null where the attempt is not late, or no rule applies. */
export function lateness(
  zone: string,
  late: CompiledLate | null,
  due: number | null,
  attempt: Attempt,
): Lateness | null {
  if (!late || attempt.onTime) return null;
  const rule = late.rule;
  const unit = rule.unit ?? 'day';
  if (attempt.lateUnits !== undefined) {
    if (attempt.lateUnits === 0) return null;
    const asked = rule.steps
      ? stepDeduction(late, attempt.lateUnits * DAY)
      : multiply(fromNumber(rule.deduct!), fraction(attempt.lateUnits));
    return {
      counted: null,
      skipped: 0,
      units: attempt.lateUnits,
      unit,
      source: 'stated',
      asked,
      percent: least(asked, late.max),
    };
  }
  if (due === null || attempt.receivedAt === undefined) return null;
  const received = parseMoment(attempt.receivedAt)!;
  if (received <= due) return null;
  const skipped = skippedMillis(zone, due, received, late.skipDays, late.skipDates);
  const counted = received - due - skipped;
  if (counted <= late.graceMillis || counted <= 0) return null;
  const units = rule.steps ? null : Math.ceil(counted / (unit === 'day' ? DAY : HOUR));
  const asked = rule.steps ? stepDeduction(late, counted) : multiply(fromNumber(rule.deduct!), fraction(units!));
  return { counted, skipped, units, unit, source: 'clock', asked, percent: least(asked, late.max) };
}

function stepDeduction(late: CompiledLate, counted: number): Fraction {
  for (const step of late.rule.steps!) {
    // Compared as fractions: hours may have decimals that no double holds.
    const limit = multiply(fromNumber(step.hours), fraction(HOUR));
    if (Number(limit.d) === 1 ? counted <= Number(limit.n) : counted * Number(limit.d) <= Number(limit.n))
      return fromNumber(step.deduct);
  }
  return late.rule.after === undefined ? ZERO : fromNumber(late.rule.after);
}
