import { counted } from '@core/words/count';
import type { EntryContent } from '@core/book/change';
import type { JournalCell, JournalSet } from '@contract/history';
import { dayAndTime } from './dates';
import { shortContent } from './short-content';

/** What a line is told with. */
export interface Names {
  zone: string;
  student(id: string): string;
  assessment(id: string): string;
  note(id: string): string | undefined;
  section?(id: string): string | undefined;
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
    flag === undefined ? '' : 'second look',
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
  if (line.kind in BOOK_WORDS) {
    const words = BOOK_WORDS[line.kind]!;
    return { was: words(line.was, line.becomes, names), becomes: words(line.becomes, line.was, names) };
  }
  if (line.kind === 'group') {
    const group = (t: string | null): string => {
      if (t === null) return 'no such group';
      const g = JSON.parse(t) as { title: string; members: string[] };
      return `${g.title}, ${counted(g.members.length, 'student')}`;
    };
    return { was: group(line.was), becomes: group(line.becomes) };
  }
  return { was: '', becomes: '' };
}

/** The lines of a book that are no cells: what one says, beside what the other does. */
const BOOK_WORDS: Record<string, (text: string | null, other: string | null, names: Names) => string> = {
  settings: (text) => {
    const s = JSON.parse(text ?? '{}') as { showsStanding?: boolean; title?: string; archived?: boolean };
    return [
      s.showsStanding === undefined ? '' : s.showsStanding ? 'standing shown' : 'standing not shown',
      s.title === undefined ? '' : `called ${s.title}`,
      s.archived === undefined ? '' : s.archived ? 'put away' : 'in use',
    ]
      .filter(Boolean)
      .join(', ');
  },
  assessment: (text, other, names) => {
    if (text === null) return '';
    const was = JSON.parse(other ?? '{}') as Record<string, unknown>;
    const is = JSON.parse(text) as Record<string, unknown>;
    // A key that only one of the two has is said by both.
    return Object.keys({ ...was, ...is })
      .filter((key) => other !== null && JSON.stringify(was[key]) !== JSON.stringify(is[key]))
      .map((key) => partWords(key, is[key], names))
      .join(', ');
  },
  order: (text) => `${(JSON.parse(text ?? '[]') as string[]).length} in this order`,
  override: (text) => {
    const { percent, letter } = JSON.parse(text ?? '{}') as { percent?: number; letter?: string };
    return letter ?? (percent === undefined ? 'as worked out' : `${percent} %`);
  },
  enrol: (text, other, names) => {
    if (text === null) return '';
    const is = JSON.parse(text) as { left?: boolean; extraTimeHours?: number; section?: string | null };
    const was = JSON.parse(other ?? '{}') as typeof is;
    return [
      is.left === was.left && other !== null ? '' : is.left ? 'out of the book' : 'in the book',
      (is.extraTimeHours ?? 0) === (was.extraTimeHours ?? 0) ? '' : `${counted(is.extraTimeHours ?? 0, 'hour')} more`,
      (is.section ?? null) === (was.section ?? null) && other !== null
        ? ''
        : is.section
          ? (names.section?.(is.section) ?? is.section)
          : 'no section',
    ]
      .filter(Boolean)
      .join(', ');
  },
  section: (text) => (text === null ? '' : (JSON.parse(text) as string).replace(/^\S+ /, '')),
  staff: (text) => {
    const { login, role } = JSON.parse(text ?? '{}') as { login?: string; role?: string | null };
    return `${login}: ${role ?? 'not of this book'}`;
  },
};

function partWords(key: string, value: unknown, names: Names): string {
  const moment = typeof value === 'string' ? dayAndTime(value, names.zone) : 'none';
  switch (key) {
    case 'title':
      return `called ${String(value)}`;
    case 'points':
      return `out of ${String(value)}`;
    case 'due':
      return `due ${moment}`;
    case 'closes':
      return `taken in until ${moment}`;
    case 'archived':
      return value ? 'put away' : 'in the book';
    case 'takesWork':
      return value ? 'handed in here' : 'on paper';
    case 'shown':
      return value === false ? 'hidden from students' : 'seen by students';
    case 'category':
      return `in ${String(value)}`;
    default:
      return `${Object.keys((value as object | undefined) ?? {}).join(', ') || 'no further settings'}`;
  }
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
      return set.kind === 'cell' ? `${cells} changed together` : kindWord(set, title || set.title);
    case 'exception':
      return `${set.title === 'ended' || set.title === 'Ended by their day' ? `Exception ${set.title.toLowerCase()}` : `Exception, ${set.title}`}: ${cells}`;
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
      return first?.was
        ? `${COUNT(set.lines, first.enrolment ? names.student(first.enrolment) : 'one student', 'students')} moved, or given extra time`
        : `${COUNT(set.lines, 'one student', 'students')} enrolled`;
    default:
      return kindWord(set, title, names);
  }
}

const NOBODY: Names = { zone: 'UTC', student: () => 'a student', assessment: (id) => id, note: () => undefined };

function kindWord(set: JournalSet, title = '', names: Names = NOBODY): string {
  return (
    {
      rules: 'The rules changed',
      assessment:
        set.shown[0]?.was == null
          ? `${title || 'An assessment'} was made`
          : set.shown[0].becomes === null
            ? `${title || 'An assessment'} was deleted`
            : `${title || 'An assessment'} was changed`,
      order: 'The assessments in another order',
      override: `Final grade${set.shown[0]?.enrolment ? ` of ${names.student(set.shown[0].enrolment)}` : ''} set by hand`,
      section: 'A section of the book',
      staff: 'Who works in the book',
      group: 'A group of students',
      settings: 'The book’s settings',
      book: 'The book was made',
      note: 'A staff note',
    }[set.kind] ?? set.kind
  );
}
