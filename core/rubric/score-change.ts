import type { CellChange, EntryContent } from '../book/change';
import type { Rubric, RubricMarks } from './document';
import { rubricScore } from './rubric-score';

/** The score that marks make; null while no criterion that counts has points, so that none is given. */
export function givenScore(rubric: Rubric, marks: RubricMarks, itemPoints: number): number | null {
  const some = rubric.criteria.some((c) => {
    const mark = Object.hasOwn(marks, c.id) ? marks[c.id] : undefined;
    return c.stands !== 'shown' && mark !== undefined && 'points' in mark;
  });
  return some ? rubricScore(rubric, marks, itemPoints).points : null;
}

/** Whether a cell holds something in the place of the sum that marks make: a score or mark typed elsewhere, a state, or one that is set. */
export function isOverridden(content: EntryContent, sum: number | null): boolean {
  const last = content.attempts?.at(-1);
  if (content.set !== undefined || content.state === 'excused' || content.state === 'missing') return true;
  return last?.mark !== undefined || (last?.score !== undefined && last.score !== sum);
}

/**
 * What becomes of the score of the last attempt when its marks change (work.md, "One score"): it follows their sum. Where
 * something else stands in the place of the sum, `ask`, unless it was said which: `follow` puts the sum there, `keep`
 * leaves it. A score that was taken away comes back with the next mark.
 */
export function scoreChange(
  rubric: Rubric,
  marks: { before: RubricMarks; after: RubricMarks },
  itemPoints: number,
  content: EntryContent,
  sum?: 'follow' | 'keep',
): { change: CellChange | null } | 'ask' {
  if (sum === 'keep') return { change: null };
  const stands = isOverridden(content, givenScore(rubric, marks.before, itemPoints));
  if (stands && sum !== 'follow') return 'ask';
  const next = givenScore(rubric, marks.after, itemPoints);
  const last = content.attempts?.at(-1);
  if (next === null)
    return { change: last?.score === undefined && last?.mark === undefined && !stands ? null : { kind: 'clear' } };
  return { change: last?.score === next && !stands ? null : { kind: 'score', points: next } };
}
