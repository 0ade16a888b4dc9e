import type { EntryContent } from '@core/book/change';
import type { JournalCell, JournalSet } from '@contract/journal';
import { dayAndTime } from './dates';
import { shortContent } from './short-content';

/** What a line is told with. */
export interface Names {
  zone: string;
  student(id: string): string;
  assessment(id: string): string;
  note(id: string): string | undefined;
}

const parsed = (text: string | null): EntryContent => (text === null ? {} : (JSON.parse(text) as EntryContent));

/** A cell's content in words, with what stands beside its score. */
export function contentWords(text: string | null, zone: string): string {
  const content = parsed(text);
  const last = content.attempts?.[content.attempts.length - 1];
  const beside = [
    (content.attempts?.length ?? 0) > 1 ? `attempt ${content.attempts!.length}` : '',
    last?.lateUnits !== undefined ? `${last.lateUnits} late` : '',
    last?.onTime ? 'lateness waived' : '',
    last?.receivedAt ? `in ${dayAndTime(last.receivedAt, zone)}` : '',
    content.dueAt ? `due ${dayAndTime(content.dueAt, zone)}` : '',
    content.lateAllowances ? 'late allowance' : '',
    content.protected ? 'protected' : '',
  ].filter(Boolean);
  const main = shortContent(content);
  return beside.length === 0 ? main : main === 'nothing' ? beside.join(', ') : `${main} (${beside.join(', ')})`;
}

/** A remark in words: its note, its flag. */
function remarkWords(text: string | null, names: Names): string {
  const { note, flag } = (text === null ? {} : JSON.parse(text)) as { note?: string; flag?: string };
  const parts = [
    note === undefined ? '' : `“${names.note(note) ?? 'a note whose text was removed'}”`,
    flag === undefined ? '' : 'flagged',
  ].filter(Boolean);
  return parts.join(', ') || 'nothing';
}

/** What was and what is, each in a few words. */
export function lineWords(line: JournalCell, names: Names): { was: string; becomes: string } {
  if (line.kind === 'cell' || line.kind === 'release' || line.kind === 'withdraw')
    return {
      was: line.was === null ? 'not released' : contentWords(line.was, names.zone),
      becomes: line.becomes === null ? 'hidden' : contentWords(line.becomes, names.zone),
    };
  if (line.kind === 'note') return { was: remarkWords(line.was, names), becomes: remarkWords(line.becomes, names) };
  if (line.kind === 'settings') {
    const shows = (t: string | null): string =>
      (JSON.parse(t ?? '{}') as { showsStanding?: boolean }).showsStanding ? 'standing shown' : 'standing not shown';
    return { was: shows(line.was), becomes: shows(line.becomes) };
  }
  if (line.kind === 'group') {
    const group = (t: string | null): string => {
      if (t === null) return 'no such group';
      const g = JSON.parse(t) as { title: string; members: string[] };
      return `${g.title}, ${g.members.length} students`;
    };
    return { was: group(line.was), becomes: group(line.becomes) };
  }
  return { was: '', becomes: '' };
}

const COUNT = (n: number, one: string, many: string): string => (n === 1 ? one : `${n} ${many}`);

/** What a set of changes was, in a few words: "12 cells pasted", "Soil pit released to 21". */
export function setWords(set: JournalSet, names: Names): string {
  const first = set.shown[0];
  const title = first?.assessment ? names.assessment(first.assessment) : '';
  const cells = COUNT(set.lines, '1 cell', 'cells');
  switch (set.set) {
    case 'intake':
      return `${cells} brought in: ${set.title}`;
    case 'paste':
      return `${cells} pasted`;
    case 'fill':
      return `${cells} filled`;
    case 'clear':
      return `${cells} cleared`;
    case 'change':
      return `${cells} changed together`;
    case 'undo':
      return `${set.kind === 'cell' ? cells : kindWord(set)} put back by undo`;
    case 'redo':
      return `${set.kind === 'cell' ? cells : kindWord(set)} made again`;
    case 'restore':
      return `${set.kind === 'cell' ? cells : kindWord(set)} put back from the journal`;
  }
  switch (set.kind) {
    case 'cell':
      return first?.enrolment ? `${names.student(first.enrolment)}, ${title}` : cells;
    case 'note':
      return `Staff note: ${first?.enrolment ? names.student(first.enrolment) : ''}${title ? `, ${title}` : ''}`;
    case 'release':
      return `${title} released to ${COUNT(set.lines, 'one student', 'students')}`;
    case 'withdraw':
      return `${title} withdrawn from ${COUNT(set.lines, 'one student', 'students')}`;
    case 'enrol':
      return `${COUNT(set.lines, 'one student', 'students')} enrolled`;
    default:
      return kindWord(set, title);
  }
}

function kindWord(set: JournalSet, title = ''): string {
  return (
    {
      rules: 'The rules changed',
      assessment: `${title || 'An assessment'} was made`,
      group: 'A group of students',
      settings: 'What students see of the standing',
      book: 'The book was made',
      note: 'A staff note',
    }[set.kind] ?? set.kind
  );
}
