import type { Entry } from '../../book/document';
import type { CompiledBook, CompiledItem } from '../compiled/compiled';
import type { LateTerms } from './lateness';
import { parseMoment } from '../../time/moment';

/** A student's effective due date on an item, in milliseconds; null: none (contract, section 2). */
export function dueOf(compiled: CompiledBook, item: CompiledItem, s: number, entry: Entry | undefined): number | null {
  const own = entry?.dueAt;
  const allowance = entry?.lateAllowances ? entry.lateAllowances * compiled.lateAllowanceMillis : 0;
  if (own !== undefined) return parseMoment(own)! + allowance;
  const general = sectionOf(compiled, item, s)?.due ?? item.due;
  return general === null ? null : general + compiled.extraMillis[s]! + allowance;
}

/** The same for the closing date, which is never earlier than the due date: an extension carries it along. */
export function closesOf(
  compiled: CompiledBook,
  item: CompiledItem,
  s: number,
  entry: Entry | undefined,
  due: number | null,
): number | null {
  const own = entry?.closesAt;
  const allowance = entry?.lateAllowances ? entry.lateAllowances * compiled.lateAllowanceMillis : 0;
  let closes: number;
  if (own !== undefined) closes = parseMoment(own)! + allowance;
  else {
    const general = sectionOf(compiled, item, s)?.closes ?? item.closes;
    if (general === null) return null;
    closes = general + compiled.extraMillis[s]! + allowance;
  }
  return due !== null && closes < due ? due : closes;
}

function sectionOf(
  compiled: CompiledBook,
  item: CompiledItem,
  s: number,
): { due: number | null; closes: number | null } | undefined {
  if (item.sectionDates === null) return undefined;
  const section = compiled.students[s]!.section;
  return section === undefined ? undefined : item.sectionDates.get(section);
}

/** Both dates of a student on an item, in milliseconds; null: none. */
export interface EffectiveDates {
  due: number | null;
  closes: number | null;
}

/** What a late rule looks at; what it does not ask for is not worked out. `bank`: the units that the bank gives. */
export function lateTerms(
  compiled: CompiledBook,
  item: CompiledItem,
  s: number,
  entry: Entry | undefined,
  bank: number,
): LateTerms {
  if (item.late === null) return NO_TERMS;
  const due = dueOf(compiled, item, s, entry);
  return { due, closes: item.late.afterCloses === null ? null : closesOf(compiled, item, s, entry, due), bank };
}
const NO_TERMS: LateTerms = { due: null, closes: null, bank: 0 };

/** Both dates of a student on an item. */
export function effectiveDates(
  compiled: CompiledBook,
  item: CompiledItem,
  s: number,
  entry: Entry | undefined,
): EffectiveDates {
  const due = dueOf(compiled, item, s, entry);
  return { due, closes: closesOf(compiled, item, s, entry, due) };
}

/** Past due in the sense of section 3. */
export function isPastDue(
  compiled: CompiledBook,
  item: CompiledItem,
  s: number,
  entry: Entry | undefined,
  due: number | null,
): boolean {
  if (compiled.closing) return true;
  const limit = item.blank.missingAfter === 'closes' ? (closesOf(compiled, item, s, entry, due) ?? due) : due;
  return limit !== null && compiled.asOf > limit;
}
