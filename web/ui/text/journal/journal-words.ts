import type { NamesSettings } from '@core/work/hidden-names';
import { counted, listed } from '@core/words/count';
import type { EntryContent } from '@core/book/change';
import type { JournalCell, JournalKind } from '@contract/history';
import type { MessageKind } from '@contract/work/threads';
import { dayAndTime } from '../dates';
import { inDecimals } from '../locale';
import { shortContent } from '../short-content';

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
  if (line.hidden) return { was: '', becomes: 'hidden until shown' };
  const words = WORDS[line.kind];
  return { was: words(line.was, line.becomes, names, 'was'), becomes: words(line.becomes, line.was, names, 'becomes') };
}

/** What a line's text says, beside what its other text does. */
type KindWords = (text: string | null, other: string | null, names: Names, which: 'was' | 'becomes') => string;

/** Whether work is marked without names, as a journal line says it. */
const hidesWords = (hides: boolean | null): string =>
  hides === null ? 'names hidden as the school says' : hides ? 'work marked without names' : 'work marked by name';

/** What students tick before they hand in, as a journal line says it. */
const tickedWords = (statement: string | null): string =>
  statement === null ? 'ticked as the school says' : statement === '' ? 'nothing ticked' : `ticked “${statement}”`;

const cellWords: KindWords = (text, _other, names, which) =>
  text === null ? (which === 'was' ? 'not released' : 'hidden') : contentWords(text, names.zone);

const WORDS: Record<JournalKind, KindWords> = {
  cell: cellWords,
  release: cellWords,
  withdraw: cellWords,
  'planned-release'(text, _other, names) {
    if (text === null) return 'nothing planned';
    const planned = JSON.parse(text) as { at: string | null; parts: string[]; students: number | null };
    const whom = planned.students === null ? 'everybody' : counted(planned.students, 'student');
    return `${listed(planned.parts)} to ${whom}, ${planned.at === null ? 'when all are done' : dayAndTime(planned.at, names.zone)}`;
  },
  'feedback-release'(text) {
    if (text === null) return 'nothing to read';
    const has = JSON.parse(text) as Record<string, string>;
    return ['rubric', 'feedback'].filter((part) => has[part] !== undefined).join(' and ');
  },
  note: (text, _other, names) => remarkWords(text, names),
  // The rules page says them in sentences, version by version.
  submission(text) {
    if (text === null) return 'nothing';
    const s = JSON.parse(text) as { state: string; receipt?: string; content?: string[] };
    const state = { 'handed-in': 'handed in', 'taken-back': 'taken back', moved: 'moved' }[s.state] ?? s.state;
    return [state, s.content ? counted(s.content.length, 'part') : '', s.receipt ?? ''].filter(Boolean).join(', ');
  },
  // The words themselves stand beside the journal, on the assessment's page.
  letter: (text) => (text === null ? '' : 'written to'),
  question(text) {
    if (text === null) return '';
    const { kind } = JSON.parse(text) as { kind: MessageKind };
    return { question: 'asked', answer: 'answered', 'set-aside': 'needs no answer', draft: 'an answer drafted' }[kind];
  },
  instructions(text) {
    if (text === null) return 'nothing';
    const i = JSON.parse(text) as { version?: number; sha256?: string; file?: string; removed?: boolean };
    if (i.file !== undefined) return i.removed ? 'a file taken out' : 'a file';
    return i.sha256 === undefined ? 'no words' : `version ${i.version}`;
  },
  // The page of the rubric has its versions.
  rubric(text) {
    const r = JSON.parse(text ?? '{}') as { version?: number; sha256?: string };
    return r.sha256 === undefined ? 'no rubric' : `version ${r.version}`;
  },
  levels(text) {
    if (text === null) return 'nothing';
    const { marks } = JSON.parse(text) as { marks: { mark: { points?: number } | null }[] };
    return marks
      .map(({ mark: m }) =>
        m === null ? 'not assessed' : m.points === undefined ? 'left out' : inDecimals(String(m.points)),
      )
      .join(', ');
  },
  feedback(text) {
    const f = JSON.parse(text ?? '{}') as { version?: number; sha256?: string };
    return f.version === undefined ? 'nothing' : f.sha256 === undefined ? 'emptied' : `version ${f.version}`;
  },
  'feedback-attachment'(text) {
    const f = JSON.parse(text ?? '{}') as { purpose?: string; sha256?: string };
    if (f.purpose === undefined) return 'none';
    const what = f.purpose === 'staff' ? 'file for staff' : f.purpose === 'given' ? 'file given back' : 'recording';
    return f.sha256 === undefined ? `${what} taken off` : what;
  },
  marks(text) {
    const m = JSON.parse(text ?? '{}') as { version?: number; marks?: number };
    if (m.version === undefined) return 'none';
    return m.marks === undefined ? `as version ${m.version}` : counted(m.marks, 'mark');
  },
  rules: () => '',
  book: () => '',
  group: (text) => {
    if (text === null) return 'no such group';
    const { title, members } = JSON.parse(text) as { title: string; members: string[] };
    return `${title}, ${counted(members.length, 'student')}`;
  },
  settings: (text) => {
    const s = JSON.parse(text ?? '{}') as {
      showsStanding?: boolean;
      title?: string;
      archived?: boolean;
      statement?: string | null;
      hidesNames?: boolean | null;
    };
    return [
      s.showsStanding === undefined ? '' : s.showsStanding ? 'standing shown' : 'standing not shown',
      s.title === undefined ? '' : `called ${s.title}`,
      s.archived === undefined ? '' : s.archived ? 'put away' : 'in use',
      s.statement === undefined ? '' : tickedWords(s.statement),
      s.hidesNames === undefined ? '' : hidesWords(s.hidesNames),
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
      .map((key) => (key === 'work' ? workWords(was[key], is[key]) : partWords(key, is[key], names)))
      .join(', ');
  },
  order: (text) => `${(JSON.parse(text ?? '[]') as string[]).length} in this order`,
  override: (text) => {
    const { percent, letter } = JSON.parse(text ?? '{}') as { percent?: number; letter?: string };
    return letter ?? (percent === undefined ? 'as worked out' : `${percent} %`);
  },
  enrol: (text, other, names) => {
    if (text === null) return '';
    const is = JSON.parse(text) as {
      left?: boolean;
      extraTimeHours?: number;
      section?: string | null;
      variant?: string;
    };
    const was = JSON.parse(other ?? '{}') as typeof is;
    return [
      is.left === was.left && other !== null ? '' : is.left ? 'out of the book' : 'in the book',
      (is.extraTimeHours ?? 0) === (was.extraTimeHours ?? 0) ? '' : `${counted(is.extraTimeHours ?? 0, 'hour')} more`,
      (is.section ?? null) === (was.section ?? null) && other !== null
        ? ''
        : is.section
          ? (names.section?.(is.section) ?? is.section)
          : 'no section',
      is.variant === was.variant ? '' : (is.variant ?? 'no variant of their own'),
    ]
      .filter(Boolean)
      .join(', ');
  },
  calculation: (text) => {
    const { students = 0, version = 0 } = JSON.parse(text ?? '{}') as { students?: number; version?: number };
    return text === null
      ? ''
      : `${counted(students, 'student')} with another figure, by version ${version} of the calculation`;
  },
  'section-variant': (text, _other, names) => {
    const { section = '', variant = null } = JSON.parse(text ?? '{}') as { section?: string; variant?: string | null };
    return `${names.section?.(section) ?? section}: ${variant === null ? 'as everybody' : variant}`;
  },
  section: (text) => (text === null ? '' : (JSON.parse(text) as string).replace(/^\S+ /, '')),
  staff: (text) => {
    const { login, role } = JSON.parse(text ?? '{}') as { login?: string; role?: string | null };
    return `${login}: ${role ?? 'not of this book'}`;
  },
};

/** How work is handed in, where it changed; that names are hidden or shown is said by itself. */
function workWords(was: unknown, is: unknown): string {
  const { namesHidden: hidden = false, namesShown: shown = false, ...rest } = (is ?? {}) as NamesSettings;
  const { namesHidden: wasHidden = false, namesShown: wasShown = false, ...before } = (was ?? {}) as NamesSettings;
  return [
    hidden && shown && !wasShown
      ? 'names shown'
      : hidden === wasHidden
        ? ''
        : hidden
          ? 'marked without names'
          : 'marked by name',
    JSON.stringify(rest) === JSON.stringify(before) ? '' : 'handed in otherwise',
  ]
    .filter(Boolean)
    .join(', ');
}

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
      return value ? 'handed in here' : 'not handed in here';
    case 'shown':
      return value === false ? 'hidden from students' : 'seen by students';
    case 'category':
      return `in ${String(value)}`;
    default:
      return `${Object.keys((value as object | undefined) ?? {}).join(', ') || 'no further settings'}`;
  }
}
