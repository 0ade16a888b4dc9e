import type { CompiledBook } from '../compiled/compiled';
import { closesOf, dueOf } from './dates';
import { entryAt } from './entries-by-item';
import { clockLateness, isAfterClosing, type CompiledLate } from './lateness';
import { variantAt } from '../compiled/variants';

const TEN_THOUSAND = 10_000;

/**
 * What a student's bank gives each item of a late rule, in units by item number (contract, 4.1): in order of due dates,
 * by the times at which work came in and by nothing else. An item that takes nothing is not in it.
 */
export function spendBank(compiled: CompiledBook, s: number, late: CompiledLate): Map<number, number> {
  const { units, perItem, items } = late.bank!;
  const { leftOut } = variantAt(compiled, s);
  const dated = items.flatMap((item) => {
    if (compiled.entries[s]![item.index] === undefined || leftOut.has(item)) return [];
    const entry = entryAt(compiled, s, item.index)!;
    const due = dueOf(compiled, item, s, entry);
    return due === null || entry.state === 'excused' ? [] : [{ item, entry, due }];
  });
  const given = new Map<number, number>();
  let left = units;
  for (const { item, entry, due } of dated.sort((a, b) => a.due - b.due)) {
    const most = Math.min(perItem, left);
    if (most === 0) continue;
    const closes = late.afterCloses === null ? null : closesOf(compiled, item, s, entry, due);
    let asked = 0;
    for (const attempt of entry.attempts ?? []) {
      if (attempt.onTime || attempt.lateUnits !== undefined || isAfterClosing(late, closes, attempt)) continue;
      const clock = clockLateness(compiled.book.timeZone, late, due, attempt);
      if (clock === null) continue;
      const lateUnits = Math.ceil(clock.counted / late.unitMillis);
      if (!isInVain(late, lateUnits - most)) asked = Math.max(asked, lateUnits);
    }
    const takes = Math.min(asked, most);
    if (takes === 0) continue;
    given.set(item.index, takes);
    left -= takes;
  }
  return given;
}

/** With so many units left to pay nothing would be better: the deduction is as large as it gets all the same. */
function isInVain(late: CompiledLate, remaining: number): boolean {
  const deduct = Math.round(late.rule.deduct! * TEN_THOUSAND);
  return deduct * remaining >= Math.round((late.rule.max ?? 100) * TEN_THOUSAND);
}

/** The units that a student has, has spent by item number, and has left. */
export function bankOf(
  compiled: CompiledBook,
  s: number,
  late: CompiledLate,
): { units: number; spent: Map<number, number>; left: number } {
  const spent = spendBank(compiled, s, late);
  const { units } = late.bank!;
  return { units, spent, left: units - [...spent.values()].reduce((sum, n) => sum + n, 0) };
}
