import type { Criterion, CriterionMark } from './document';
import { levelReached } from './levels';

/** What a criterion was given, as its student reads it. */
export interface Given {
  /** Null: a word stands for them. */
  points: number | null;
  /** "not assessed", "left out"; '' where there are points. */
  word: string;
  /** Points at most. */
  most: number;
  /** How it counts where that is not as the others: "on top", "counts nowhere"; '' else. */
  stands: string;
  /** The level that is reached, from 1; 0: below the first, or nothing given. */
  level: number;
  /** More than its level's points. */
  past: boolean;
}

export function givenOf(criterion: Criterion, mark: CriterionMark | undefined): Given {
  const points = mark && 'points' in mark ? mark.points : null;
  const reached = points === null ? { level: 0, past: false } : levelReached(criterion, points);
  return {
    points,
    word: points !== null ? '' : mark === undefined ? 'not assessed' : 'left out',
    most: criterion.levels.at(-1)?.points ?? 0,
    stands: criterion.stands === 'bonus' ? 'on top' : criterion.stands === 'shown' ? 'counts nowhere' : '',
    ...reached,
  };
}
