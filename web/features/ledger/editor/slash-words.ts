import type { CellChange } from '@core/book/change';
import { amountIn } from '../../../ui/text/amount';
import { readDay } from '../../../ui/text/read-day';

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
  { word: 'again', then: '', label: 'open again: until when, as which attempt, and why' },
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

export type SlashRead =
  { kind: 'change'; change: CellChange } | { kind: 'go'; to: Goal } | { kind: 'refused'; message: string };

export interface SlashContext {
  timeZone: string;
  asOf: string;
  due: string | null;
  /** The cell holds an attempt whose lateness can be said. */
  hasWork: boolean;
}

/** The words that begin as typed: "/l" offers late. */
export function offered(text: string): SlashWord[] {
  const start = text.slice(1).split(/\s/)[0]!.toLowerCase();
  return SLASH_WORDS.filter((w) => w.word.startsWith(start));
}

/** "14 /release": what is typed, and behind it a word that leads somewhere; null: there is none. */
export function withGoal(text: string): { typed: string; goal: Goal } | null {
  const [, typed, head] = /^(.*\S)\s+\/([a-z]+)\s*$/i.exec(text) ?? [];
  const word = head === undefined ? undefined : offered(`/${head}`)[0]?.word;
  return typed !== undefined && word !== undefined && isGoal(word) ? { typed, goal: word } : null;
}

/** Reads "/late 2", "/due 27 Nov" and the like. Of several words that begin so it is the first, as they are offered. */
export function readSlash(text: string, context: SlashContext): SlashRead {
  const [head, ...tail] = text.slice(1).trim().split(/\s+/);
  const rest = tail.join(' ');
  const words = head ? offered(`/${head}`) : [];
  if (words.length === 0)
    return {
      kind: 'refused',
      message: `There is no action “/${head ?? ''}”. There are: ${SLASH_WORDS.map((w) => `/${w.word}`).join(', ')}.`,
    };
  return act(words[0]!.word, rest, context);
}

function act(word: string, rest: string, c: SlashContext): SlashRead {
  const at = (past = false): string | null => readDay(rest, { zone: c.timeZone, near: c.asOf, like: c.due, past });
  const refused = (message: string): SlashRead => ({ kind: 'refused', message: message });
  const change = (made: CellChange): SlashRead => ({ kind: 'change', change: made });
  if (isGoal(word)) return { kind: 'go', to: word };
  if (word === 'due') {
    if (rest === '') return change({ kind: 'due', dueAt: null });
    const dueAt = at();
    return dueAt ? change({ kind: 'due', dueAt }) : refused(`“${rest}” is no day such as 27 Nov or 27 Nov 17:00.`);
  }
  if (word === 'came') {
    const came = rest === '' ? c.asOf : at(true);
    return came
      ? change({ kind: 'received', at: came })
      : refused(`“${rest}” is no day such as 12 Nov or 12 Nov 16:00.`);
  }
  if (word === 'allow')
    return /^\d{1,3}$/.test(rest)
      ? change({ kind: 'allowances', count: Number(rest) })
      : refused('Say how many late allowances: /allow 1, or /allow 0 for none.');
  if (word === 'set') {
    if (rest === '') return change({ kind: 'set', points: null });
    const points = amountIn(rest);
    return points !== null
      ? change({ kind: 'set', points })
      : refused('Say the score in points: /set 14, or /set alone for none.');
  }
  if (word === 'protect') return change({ kind: 'protect', on: rest !== 'no' });
  if (!c.hasWork) return refused('Nothing came in yet. Type the score first, or /came with the day it came in.');
  if (word === 'ontime') return change({ kind: 'on-time', waived: true });
  if (/^\d{1,4}$/.test(rest)) return change({ kind: 'late', units: Number(rest) });
  const receivedAt = at();
  return receivedAt
    ? change({ kind: 'late-at', receivedAt })
    : refused('Say how late: a number of days (/late 2), or when it came in (/late 13 Nov 20:00).');
}
