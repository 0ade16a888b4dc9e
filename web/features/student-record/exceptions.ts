import { counted } from '@core/words/count';
import type { EntryContent } from '@core/book/change';
import { dayAndTime } from '../../ui/text/dates';

/** What is not as the rules say for one cell, in words; empty where all is. */
export function exceptionsOf(content: EntryContent, zone: string): string[] {
  const last = content.attempts?.[content.attempts.length - 1];
  return [
    content.state === 'excused' ? 'excused' : '',
    content.state === 'missing' ? 'missing, said by hand' : '',
    content.state === 'awaiting' ? 'still awaited' : '',
    content.dueAt ? `due ${dayAndTime(content.dueAt, zone)}` : '',
    content.closesAt ? `open until ${dayAndTime(content.closesAt, zone)}` : '',
    content.lateAllowances ? counted(content.lateAllowances, 'late allowance', 'late allowances') : '',
    content.set !== undefined ? `score set to ${content.set}` : '',
    content.protected ? 'always kept' : '',
    content.attempts?.some((a) => a.onTime) ? 'lateness waived' : '',
    last?.lateUnits !== undefined && !last.onTime ? `${last.lateUnits} late, said by hand` : '',
  ].filter(Boolean);
}
