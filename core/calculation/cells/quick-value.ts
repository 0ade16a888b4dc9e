import type { Attempt } from '../../book/document';
import { retakeCapOf } from './attempts';
import type { CompiledBook, CompiledItem } from '../compiled/compiled';
import { isAfterClosing, type LateTerms } from './lateness';
import { parseMoment } from '../../time/moment';
import { skippedMillis } from '../../time/skipped-days';

/**
 * The value of a cell's attempts (contract, section 4) in whole ten-thousandths of a point, held exactly in doubles.
 * Wherever a step would leave them (a third of a point, a figure past 2^53) the answer is NaN, and the caller works the
 * cell out in fractions. So it is never a figure that is nearly right.
 */
const LIMIT = Number.MAX_SAFE_INTEGER;
const MOST = 1e13;

/** Points as a double of at most four decimals; NaN: not to be had this way. `attempts` has at least one scored. */
export function quickValue(compiled: CompiledBook, item: CompiledItem, terms: LateTerms, attempts: Attempt[]): number {
  const only = attempts[0]!;
  // By far the most: one score, no rule that touches it.
  if (attempts.length === 1 && item.late === null && !item.source.curve && only.score !== undefined) return only.score;
  const use = item.source.attempts?.use ?? 'best';
  let chosen = NaN;
  let sum = 0;
  let scored = 0;
  for (let k = 0; k < attempts.length; k++) {
    const attempt = attempts[k]!;
    if (attempt.score === undefined && attempt.mark === undefined) continue;
    const value = quickAttempt(compiled, item, terms, attempt, k + 1);
    // An attempt that needs fractions may be the one that counts.
    if (!(value >= 0)) return NaN;
    scored++;
    sum += value;
    if (scored === 1 || use === 'latest' || (use === 'best' && value > chosen)) chosen = value;
  }
  // The others are few, and made of fractions.
  if ((use === 'decaying' || use === 'regain') && scored > 1) return NaN;
  if (use === 'mean') chosen = sum <= LIMIT && sum % scored === 0 ? sum / scored : NaN;
  return chosen <= MOST ? chosen / 10_000 : NaN;
}

function quickAttempt(
  compiled: CompiledBook,
  item: CompiledItem,
  { due, closes, bank }: LateTerms,
  attempt: Attempt,
  number: number,
): number {
  const points = Math.round(item.source.points * 10_000);
  let value: number;
  if (attempt.score !== undefined) value = Math.round(attempt.score * 10_000);
  else {
    const share = item.marks!.get(attempt.mark!)!;
    value = share.d === 1 ? Number(share.n) * points : divided(points, Number(share.n), Number(share.d));
  }
  const curve = item.source.curve;
  if (curve) {
    if (curve.kind === 'add') value = Math.max(0, value + Math.round(curve.points * 10_000));
    else if (curve.kind === 'top') value = divided(value, points, Math.round(curve.at * 10_000));
    else return NaN;
  }
  // Past this a double holds no longer every whole number.
  if (!(value <= LIMIT)) return NaN;
  // After closing is rare: it goes the exact way.
  if (item.late !== null && isAfterClosing(item.late, closes, attempt)) return NaN;
  if (item.late !== null) value = lessLateness(compiled, item, due, bank, attempt, value, points);
  const cap = item.source.attempts && retakeCapOf(item.source.attempts, number);
  if (cap !== undefined) {
    const most = percentOf(points, Math.round(cap * 10_000));
    if (!(most >= 0)) return NaN;
    value = Math.min(value, most);
  }
  return value <= LIMIT ? value : NaN;
}

/** a × b / c where that is whole and every step is exact; else NaN. */
function divided(a: number, b: number, c: number): number {
  const product = a * b;
  return product <= LIMIT && product % c === 0 ? product / c : NaN;
}

/** A percentage in ten-thousandths of a percent, of some points. */
const percentOf = (points: number, percent: number): number => divided(points, percent, 1_000_000);

function lessLateness(
  compiled: CompiledBook,
  item: CompiledItem,
  due: number | null,
  bank: number,
  attempt: Attempt,
  curved: number,
  points: number,
): number {
  const late = item.late!;
  if (attempt.onTime) return curved;
  let counted: number;
  let units: number;
  if (attempt.lateUnits !== undefined) {
    if (attempt.lateUnits === 0) return curved;
    units = attempt.lateUnits;
  } else {
    if (due === null || attempt.receivedAt === undefined) return curved;
    const received = parseMoment(attempt.receivedAt)!;
    if (received <= due) return curved;
    counted =
      received - due - (late.skips === null ? 0 : skippedMillis(compiled.book.timeZone, due, received, late.skips));
    if (counted <= late.graceMillis) return curved;
    units = Math.max(0, Math.ceil(counted / late.unitMillis) - bank);
  }
  // Steps are few and rare: they go the exact way.
  if (late.steps !== null) return NaN;
  const rule = late.rule;
  const asked = Math.round(rule.deduct! * 10_000) * units;
  const percent = Math.min(asked, Math.round((rule.max ?? 100) * 10_000));
  const deduction = percentOf(rule.of === 'earned' ? curved : points, percent);
  const floor = percentOf(points, Math.round((rule.floor ?? 0) * 10_000));
  if (!(deduction >= 0 && floor >= 0 && asked <= LIMIT)) return NaN;
  return Math.max(curved - deduction, Math.min(curved, floor));
}
