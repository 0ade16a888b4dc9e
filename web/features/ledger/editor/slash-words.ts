import type { CellChange } from '@core/book/change';
import { readTyped, splitReason } from '@core/import/typed';
import { amountIn, gradeIn } from '../../../ui/text/amount';
import type { ReadDay } from './lazy-days';

/** Where a word leads that changes no cell. */
export type Goal =
  | 'note'
  | 'second'
  | 'down'
  | 'across'
  | 'save'
  | 'copy'
  | 'history'
  | 'column'
  | 'student'
  | 'mark'
  | 'closing'
  | 'release'
  | 'withdraw'
  | 'new'
  | 'marked'
  | 'attempts'
  | 'exceptions'
  | 'again'
  | 'rules'
  | 'mine'
  | 'theirs';

/** The actions that can be typed into a cell after a slash, each by its first letters. */
export interface SlashWord {
  word: string;
  /** What may follow. */
  then: string;
  label: string;
}

export const SLASH_WORDS: readonly SlashWord[] = [
  { word: 'late', then: '2, or 13 Nov 20:00', label: 'how late it was, in days, or when it came in' },
  { word: 'ontime', then: '', label: 'waive the lateness' },
  { word: 'came', then: '12 Nov 16:00', label: 'work came in and waits to be marked' },
  { word: 'due', then: '27 Nov 17:00', label: 'a due date of their own; alone: none' },
  { word: 'excuse', then: '- why', label: 'excused, each that is selected' },
  { word: 'points', then: '50', label: 'what the assessment is out of; “percent” keeps the percentages' },
  { word: 'final', then: '72 - why', label: 'a final grade in place of the one worked out; alone: none' },
  { word: 'feedback', then: 'a clear voice', label: 'added to the end note, read once it is released' },
  { word: 'down', then: '', label: 'fill the selection from its first row' },
  { word: 'across', then: '', label: 'fill the selection from its first column' },
  { word: 'mark', then: '', label: 'this work in the marking room' },
  { word: 'note', then: '', label: 'a staff note on this cell' },
  { word: 'second', then: '', label: 'a second look; again: done' },
  { word: 'history', then: '', label: 'everything that happened to this cell' },
  { word: 'column', then: '', label: 'numbers and spread of this assessment' },
  { word: 'student', then: '', label: 'this student’s own page' },
  { word: 'allow', then: '1', label: 'late allowances of their own; 0: none' },
  { word: 'set', then: '14', label: 'a score that stands as it is; alone: none' },
  { word: 'protect', then: '', label: 'always kept for this student; “no” ends it' },
  { word: 'attempts', then: '', label: 'all attempts, each with its dates' },
  { word: 'again', then: '11', label: 'one more attempt with its score; alone: open it again …' },
  { word: 'exceptions', then: '', label: 'the page of exceptions, with this one chosen' },
  { word: 'rules', then: '', label: 'the rules that make this number' },
  { word: 'mine', then: '', label: 'after a clash: keep mine' },
  { word: 'theirs', then: '', label: 'after a clash: take theirs' },
  { word: 'marked', then: '', label: 'show as marked, or what counts' },
  { word: 'closing', then: '', label: 'the sheet as if the term ended now' },
  { word: 'release', then: '', label: 'release what is selected …' },
  { word: 'withdraw', then: '', label: 'hide it again from those selected …' },
  { word: 'save', then: '', label: 'the scores shown, as a file; with an assessment selected, its own' },
  { word: 'copy', then: '', label: 'these cells with names and headings, for a spreadsheet' },
  { word: 'new', then: '', label: 'make an assessment …' },
];

const GOALS: readonly Goal[] = [
  'note',
  'second',
  'down',
  'across',
  'save',
  'copy',
  'history',
  'column',
  'student',
  'closing',
  'release',
  'withdraw',
  'mark',
  'new',
  'attempts',
  'exceptions',
  'again',
  'rules',
  'marked',
  'mine',
  'theirs',
];
export const isGoal = (word: string): word is Goal => GOALS.some((g) => g === word);

/** What a word does to more than cells: to the assessment, to a final grade, to what students read. */
export type BookAct =
  | { kind: 'points'; points: number; scores: 'keep-points' | 'keep-percentages' }
  /** None of both: the one set by hand ends. */
  | { kind: 'final'; percent: number | null; letter: string | null }
  | { kind: 'feedback'; words: string };

/** `above`: more than full marks. */
export type SlashRead =
  | { kind: 'change'; change: CellChange; above?: boolean }
  | { kind: 'act'; act: BookAct }
  | { kind: 'go'; to: Goal }
  | { kind: 'refused'; message: string };

export interface SlashContext {
  timeZone: string;
  asOf: string;
  due: string | null;
  /** The cell holds an attempt whose lateness can be said. */
  hasWork: boolean;
  points: number;
  marks: readonly string[];
  /** Null: it is not there yet. */
  readDay: ReadDay | null;
}

/** The words that begin as typed: "/l" offers late. */
export function offered(text: string): SlashWord[] {
  const start = text.slice(1).split(/\s/)[0]!.toLowerCase();
  return SLASH_WORDS.filter((w) => w.word.startsWith(start));
}

/**
 * "14 /release", "8 /feedback a clear voice": what is typed, and behind it a word that leads somewhere or is said to the
 * student; null: there is none.
 */
export function withWord(text: string): { typed: string; slash: string } | null {
  const [, typed, head, rest = ''] = /^(.*?\S)\s+\/([a-z]+)(?:\s+(.*))?$/is.exec(text) ?? [];
  const word = head === undefined ? undefined : offered(`/${head}`)[0]?.word;
  if (typed === undefined || word === undefined) return null;
  const follows = rest.trim() === '' ? isGoal(word) : word === 'feedback';
  return follows ? { typed, slash: `/${word} ${rest}`.trim() } : null;
}

/**
 * Reads "/late 2", "/due 27 Nov - ill" and the like, whatever reason follows. Of several words that begin so it is the
 * first, as they are offered.
 */
export function readSlash(source: string, context: SlashContext): SlashRead {
  const [head] = source.slice(1).trim().split(/\s+/);
  const words = head ? offered(`/${head}`) : [];
  if (words.length === 0)
    return {
      kind: 'refused',
      message: `There is no action “/${head ?? ''}”. There are: ${SLASH_WORDS.map((w) => `/${w.word}`).join(', ')}.`,
    };
  const { word } = words[0]!;
  // What is said to a student is theirs with all its dashes.
  const text = word === 'feedback' ? source : splitReason(source).text;
  return act(word, text.slice(1).trim().slice(head!.length).trim(), context);
}

function act(word: string, rest: string, c: SlashContext): SlashRead {
  const at = (past = false): string | null =>
    c.readDay?.(rest, { zone: c.timeZone, near: c.asOf, like: c.due, past }) ?? null;
  const refused = (message: string): SlashRead => ({ kind: 'refused', message });
  const noDay = (message: string): SlashRead =>
    refused(c.readDay ? message : 'What reads days is on its way. It is done by itself then.');
  const change = (made: CellChange): SlashRead => ({ kind: 'change', change: made });
  if (word === 'again' && rest !== '') return oneMore(rest, c);
  if (isGoal(word)) return { kind: 'go', to: word };
  switch (word) {
    case 'excuse':
      return rest === ''
        ? change({ kind: 'state', state: 'excused' })
        : refused('A reason follows a dash: /excuse - ill.');
    case 'points':
      return points(rest);
    case 'final':
      return final(rest);
    case 'feedback':
      return rest === ''
        ? refused('Say the words that the student is to read: /feedback A clear voice.')
        : { kind: 'act', act: { kind: 'feedback', words: rest } };
    case 'due': {
      const dueAt = rest === '' ? null : at();
      return rest === '' || dueAt
        ? change({ kind: 'due', dueAt })
        : noDay(`“${rest}” is no day such as 27 Nov or 27 Nov 17:00.`);
    }
    case 'came': {
      const came = rest === '' ? c.asOf : at(true);
      return came
        ? change({ kind: 'received', at: came })
        : noDay(`“${rest}” is no day such as 12 Nov or 12 Nov 16:00.`);
    }
    case 'allow':
      return /^\d{1,3}$/.test(rest)
        ? change({ kind: 'allowances', count: Number(rest) })
        : refused('Say how many late allowances: /allow 1, or /allow 0 for none.');
    case 'set': {
      const set = rest === '' ? null : amountIn(rest);
      return rest === '' || set !== null
        ? change({ kind: 'set', points: set })
        : refused('Say the score in points: /set 14, or /set alone for none.');
    }
    case 'protect':
      return change({ kind: 'protect', on: rest !== 'no' });
  }
  if (!c.hasWork) return refused('Nothing came in yet. Type the score first, or /came with the day it came in.');
  if (word === 'ontime') return change({ kind: 'on-time', waived: true });
  if (/^\d{1,4}$/.test(rest)) return change({ kind: 'late', units: Number(rest) });
  const receivedAt = at();
  return receivedAt
    ? change({ kind: 'late-at', receivedAt })
    : noDay('Say how late: a number of days (/late 2), or when it came in (/late 13 Nov 20:00).');
}

/** "/again 11": read as a score typed into the cell is. */
function oneMore(rest: string, { points, marks }: SlashContext): SlashRead {
  const read = readTyped(rest, { points, marks });
  if (read.kind === 'refused') return read;
  const made = read.kind === 'change' ? read.change : null;
  if (made?.kind === 'score')
    return { kind: 'change', change: { kind: 'attempt', made: { score: made.points } }, above: read.kind === 'change' && read.above }; // prettier-ignore
  if (made?.kind === 'mark') return { kind: 'change', change: { kind: 'attempt', made: { mark: made.label } } };
  return { kind: 'refused', message: 'Say the score of the new attempt: /again 11. /again alone opens it again.' };
}

/** "/points 50", "/points 50 keep", "/points 50 percent". */
function points(rest: string): SlashRead {
  const [, amount = '', way = ''] = /^(\S+)(?:\s+(keep|points|percent|percentages))?$/i.exec(rest) ?? [];
  const to = amountIn(amount);
  if (to === null)
    return {
      kind: 'refused',
      message: 'Say what it is out of: /points 50 keeps the scores as they are, /points 50 percent their percentages.',
    };
  const scores = way.toLowerCase().startsWith('percent') ? 'keep-percentages' : 'keep-points';
  return { kind: 'act', act: { kind: 'points', points: to, scores } };
}

function final(rest: string): SlashRead {
  if (rest.length > 20) return { kind: 'refused', message: 'Say a percentage or a letter: /final 72, or /final B.' };
  return { kind: 'act', act: { kind: 'final', ...(rest === '' ? { percent: null, letter: null } : gradeIn(rest)) } };
}
