import { counted } from '@core/words/count';
import type { ExceptionKind } from '@core/book/exceptions';
import { dayAndTime } from '../../ui/text/dates';
import type { ExceptionLine } from '@contract/scores';

/** The kinds as the page names them, and as it can be filtered by. */
export const KIND_WORDS: Record<ExceptionKind, string> = {
  excused: 'excused',
  missing: 'missing, by hand',
  awaiting: 'still awaited',
  extension: 'own due date',
  allowance: 'late allowance',
  waiver: 'lateness waived',
  set: 'score set',
  protected: 'always kept',
  'extra-time': 'extra time everywhere',
  override: 'final grade set',
};

/** An exception in a few words, with what it says beside its kind. */
export function exceptionWords(line: ExceptionLine, zone: string): string {
  switch (line.kind) {
    case 'extension':
      return [
        line.dueAt ? `due ${dayAndTime(line.dueAt, zone)}` : '',
        line.closesAt ? `open until ${dayAndTime(line.closesAt, zone)}` : '',
      ]
        .filter(Boolean)
        .join(', ');
    case 'allowance':
      return counted(line.number!, 'late allowance');
    case 'set':
      return `score set to ${line.number}`;
    case 'extra-time':
      return counted(line.number!, 'hour more everywhere', 'hours more everywhere');
    case 'override':
      return `final grade set to ${line.letter ?? `${line.number} %`}`;
    default:
      return KIND_WORDS[line.kind];
  }
}
