import { counted } from '../words/count';
import type { CompiledBook, CompiledItem } from '../calculation/compiled/compile';
import { itemValue } from '../calculation/cells/value';
import { compare, negate, subtract, toText, ZERO, type Fraction } from '../exact/fraction';

/**
 * A score as a sum to read: marked, what was added or taken, what counts. Points as exact fractions in text; `marked` with
 * all terms is `counts` exactly.
 */
export interface SlipSum {
  /** The attempt that counts, counted from 1. */
  attempt: number;
  /** Scored attempts. */
  attempts: number;
  marked: string;
  terms: SlipTerm[];
  counts: string;
}

/** Points that a curve, lateness or the cap of a later attempt added or took; of lateness by units, how many. */
export interface SlipTerm {
  what: 'curve' | 'late' | 'cap';
  sign: '+' | '-';
  points: string;
  units: number | null;
  unit: 'hour' | 'day' | null;
}

/** Null where no one attempt makes the score: nothing is scored, it was set, or the mean of several counts. */
export function slipSum(compiled: CompiledBook, student: number, item: CompiledItem): SlipSum | null {
  const value = itemValue(compiled, item, student);
  if (value.state !== 'scored') return null;
  const { values, chosen } = value.attempts!;
  const a = chosen ?? (values.length === 1 ? values[0]! : null);
  if (!a) return null;
  const terms: SlipTerm[] = [];
  const term = (what: SlipTerm['what'], from: Fraction, to: Fraction): void => {
    const change = subtract(to, from);
    const sign = compare(change, ZERO);
    if (sign === 0) return;
    // What came after closing loses by no units.
    const late = what === 'late' && !a.late?.closed?.isMore ? a.late : null;
    // What the bank gives costs nothing.
    const units = late?.units == null ? null : late.units - late.fromBank;
    const points = toText(sign > 0 ? change : negate(change));
    terms.push({ what, sign: sign > 0 ? '+' : '-', points, units, unit: units === null ? null : late!.unit });
  };
  term('curve', a.raw, a.curved);
  term('late', a.curved, a.afterLate);
  term('cap', a.afterLate, a.value);
  return {
    attempt: a.number,
    attempts: values.length,
    marked: toText(a.raw),
    terms,
    counts: toText(a.value),
  };
}

/** What a term of the sum is, in words. */
export function termWords(t: SlipTerm): string {
  if (t.what === 'curve') return t.sign === '+' ? 'added for all' : 'taken for all';
  if (t.what === 'cap') return 'over the limit of a later attempt';
  if (t.units === null) return 'for coming late';
  return t.unit === 'hour' ? counted(t.units, 'started hour') : counted(t.units, 'started day');
}
