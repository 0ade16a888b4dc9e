import { equal, fromNumber, parse } from '../exact/fraction';
import { shortText } from '../exact/rounding';
import type { Rubric, RubricMarks } from './document';
import { rubricMaximum } from './rubric-score';
import { givenScore } from './score-change';

/** What the marks of a rubric make together, in points, of how many. */
export interface RubricTotal {
  points: number;
  of: number;
}

/** Null where no criterion that counts is given points, or the assessment is worth none. */
export function rubricTotal(rubric: Rubric, marks: RubricMarks, itemPoints: number | null): RubricTotal | null {
  if (itemPoints === null) return null;
  const points = givenScore(rubric, marks, itemPoints);
  if (points === null) return null;
  const isPlain = rubric.by === 'points' && !rubric.scaled;
  return { points, of: isPlain ? Number(shortText(rubricMaximum(rubric))) : itemPoints };
}

/**
 * "Together 20 of 20." `marked`: the score of the same attempt as an exact fraction; where it is another, both are said.
 * `format` writes a number as its reader does.
 */
export function totalWords(total: RubricTotal, marked: string | null, format: (points: string) => string): string {
  const together = `Together ${format(String(total.points))} of ${format(String(total.of))}.`;
  if (marked === null || equal(parse(marked), fromNumber(total.points))) return together;
  return `${together} The score is not this sum: ${format(shortText(parse(marked)))} was given in its place.`;
}
