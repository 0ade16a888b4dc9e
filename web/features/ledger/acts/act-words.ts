import type { AttemptUse } from '@core/book/document';
import type { CellChange } from '@core/book/change';
import { counted } from '@core/words/count';
import { dayAndTime } from '../../../ui/text/dates';
import type { BookAct } from '../editor/slash-words';

/** What a change makes of a cell, in a few words that stand behind the cell. */
export function changeWords(change: CellChange, zone: string): string {
  switch (change.kind) {
    case 'score':
      return String(change.points);
    case 'mark':
      return change.label;
    case 'attempt':
      return `one more attempt: ${'score' in change.made ? change.made.score : change.made.mark}`;
    case 'clear':
      return 'cleared';
    case 'state':
      return change.state === 'awaiting' ? 'awaited' : (change.state ?? 'as it came in');
    case 'received':
      return `came in ${dayAndTime(change.at, zone)}`;
    case 'late':
      return change.units === 0
        ? 'on time'
        : `${counted(change.units, 'day')} late, or hours where its rule counts those`;
    case 'late-at':
      return `came in ${dayAndTime(change.receivedAt, zone)}`;
    case 'on-time':
      return change.waived ? 'its lateness waived' : 'its lateness counts';
    case 'due':
    case 'dates':
      return change.dueAt === null ? 'no due date of its own' : `due ${dayAndTime(change.dueAt, zone)}`;
    case 'allowances':
      return change.count === 0 ? 'no late allowance of its own' : counted(change.count, 'late allowance');
    case 'set':
      return change.points === null ? 'no score set by hand' : `${change.points}, as it stands`;
    case 'protect':
      return change.on ? 'always kept' : 'kept no more than the rules say';
    case 'put':
      return 'as it was';
  }
}

/** "Farrelly, Con · Soil pit", "21 students · Soil pit", "42 cells of 2 assessments". */
export function placeWords(names: readonly string[], titles: readonly string[], cells: number): string {
  if (titles.length > 1) return `${counted(cells, 'cell')} of ${counted(titles.length, 'assessment')}`;
  return [whoWords(names), ...titles].join(' · ');
}

export const whoWords = (names: readonly string[]): string =>
  names.length === 1 ? names[0]! : counted(names.length, 'student');

/** What the points of an assessment become, with what becomes of its scores. */
export function pointsWords(act: Extract<BookAct, { kind: 'points' }>, was: number): string {
  const half = was / 2;
  const becomes = act.scores === 'keep-points' ? half : act.points / 2;
  return act.scores === 'keep-points'
    ? `Scores stay as they are: ${half} of ${was} becomes ${becomes} of ${act.points}. “percent” behind it keeps their percentages.`
    : `Scores keep their percentages: ${half} of ${was} becomes ${becomes} of ${act.points}.`;
}

const COUNTS = {
  best: 'Of the attempts the best counts.',
  latest: 'Of the attempts the latest counts.',
  first: 'Of the attempts the first counts.',
  mean: 'Of the attempts their mean counts.',
  decaying: 'Of the attempts the newest counts most.',
  regain: 'The first attempt counts, with what later ones win back.',
} as const satisfies Record<AttemptUse, string>;

/** Which of several attempts counts, in a sentence. */
export const attemptsWords = (use: AttemptUse = 'best'): string => COUNTS[use];
