import type { Entry, ItemState, Student } from '../book/document';
import { fromNumber, multiply, percent, ZERO, type Fraction } from '../exact/fraction';
import { attemptsValue, isScored, type AttemptsValue } from './attempts';
import { effectiveDates, type CompiledBook, type CompiledItem } from './compile';

/** What an item is worth to a student (contract, section 2): `earned` points, or null where it is skipped. */
export interface ItemValue {
  state: ItemState;
  earned: Fraction | null;
  /** Open in the sense of section 7. */
  open: boolean;
  due: number | null;
  closes: number | null;
  pastDue: boolean;
  attempts: AttemptsValue | null;
  /** Which line of the blank rule gave the value, where one did. */
  blankLine: 'beforeDue' | 'afterDue' | null;
  protected: boolean;
}

/** The first line of section 2's table that applies. */
export function itemValue(
  compiled: CompiledBook,
  item: CompiledItem,
  student: Student,
  entry: Entry | undefined,
): ItemValue {
  const { due, closes } = effectiveDates(compiled, item, student, entry);
  const limit = item.blank.missingAfter === 'closes' ? (closes ?? due) : due;
  const pastDue = compiled.closing || (limit !== null && compiled.asOf > limit);
  const attempts = entry?.attempts ?? [];
  const give = (
    state: ItemState,
    earned: Fraction | null,
    more: { attempts?: AttemptsValue; blankLine?: 'beforeDue' | 'afterDue' } = {},
  ): ItemValue => ({
    state,
    earned,
    open: (state === 'pending' || state === 'awaiting' || state === 'blank') && !item.optional,
    due,
    closes,
    pastDue,
    attempts: more.attempts ?? null,
    blankLine: more.blankLine ?? null,
    protected: entry?.protected === true,
  });
  const afterDue = (): ItemValue => {
    const rule = item.blank.afterDue;
    const earned = item.optional || rule === 'skip' ? null : multiply(percent(rule.percent), item.points);
    return give('missing', earned, { blankLine: 'afterDue' });
  };

  if (entry?.state === 'excused') return give('excused', null);
  if (entry?.set !== undefined) return give('set', fromNumber(entry.set));
  if (attempts.some(isScored)) {
    const valued = attemptsValue(compiled.book.timeZone, item, due, attempts);
    return give('scored', valued.value, { attempts: valued });
  }
  if (attempts.length > 0) return give('pending', null);
  if (entry?.state === 'missing') return afterDue();
  if (entry?.state === 'awaiting') return give('awaiting', null);
  if (pastDue) return afterDue();
  return give('blank', item.blank.beforeDue === 'zero' && !item.optional ? ZERO : null, { blankLine: 'beforeDue' });
}
