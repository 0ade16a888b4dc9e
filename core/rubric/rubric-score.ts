import { add, divide, equal, fromNumber, isZero, multiply, ZERO, type Fraction } from '../exact/fraction';
import { roundedText } from '../exact/rounding';
import { topOf } from './check-rubric';
import type { Criterion, Rubric, RubricMarks } from './document';

/** What the marks of a rubric make together. */
export interface RubricScore {
  /** Exactly; null where every criterion that counts is left out, so that there is nothing to score. */
  exact: Fraction | null;
  /** As the attempt's score: once half-up to four decimals of a point. */
  points: number | null;
  /** Criteria that are not assessed yet; while there are some the score is unfinished, and they count as 0. */
  open: string[];
}

/** The points that the criteria that count are worth together; what is on top is not among them. */
export const rubricMaximum = (rubric: Rubric): Fraction =>
  rubric.criteria.filter((c) => c.stands === 'counts').reduce((sum, c) => add(sum, fromNumber(topOf(c))), ZERO);

/** Whether a rubric by points makes other points at most than the assessment has. */
export const differsFrom = (rubric: Rubric, itemPoints: number): boolean =>
  rubric.by === 'points' && !rubric.scaled && !equal(rubricMaximum(rubric), fromNumber(itemPoints));

/**
 * The score that follows from the marks, of an assessment's points. By points: the sum of what counts and of what is on
 * top; left out is a criterion out of both sums, and the rest is brought to the whole. By weights: Σ weight × share ÷ Σ
 * weight × points, what is on top above that. Exact until the end (work.md, "Rubric").
 */
export function rubricScore(rubric: Rubric, marks: RubricMarks, itemPoints: number): RubricScore {
  const open: string[] = [];
  let [earned, onTop, possible, whole] = [ZERO, ZERO, ZERO, ZERO];
  for (const c of rubric.criteria) {
    const mark = Object.hasOwn(marks, c.id) ? marks[c.id] : undefined;
    if (mark === undefined) open.push(c.id);
    if (c.stands === 'shown') continue;
    const worth = worthOf(rubric, c);
    if (c.stands === 'counts') whole = add(whole, worth);
    if (mark !== undefined && 'leftOut' in mark) continue;
    const given = mark === undefined ? ZERO : givenOf(rubric, c, mark.points);
    if (c.stands === 'bonus') onTop = add(onTop, given);
    else {
      earned = add(earned, given);
      possible = add(possible, worth);
    }
  }
  const some = rubric.criteria.some((c) => c.stands === 'counts' && !isLeftOut(marks, c.id));
  if (!some) return { exact: null, points: null, open };
  const plain = rubric.by === 'points' && !rubric.scaled;
  const scale = plain ? whole : fromNumber(itemPoints);
  const share = isZero(possible) ? ZERO : multiply(divide(earned, possible), scale);
  const above = plain ? onTop : isZero(whole) ? ZERO : multiply(divide(onTop, whole), scale);
  const exact = add(share, above);
  return { exact, points: Number(roundedText(exact, 4, 'half-up')), open };
}

const isLeftOut = (marks: RubricMarks, id: string): boolean => Object.hasOwn(marks, id) && 'leftOut' in marks[id]!;

/** What a criterion can bring at most: its points, or its weight. */
const worthOf = (rubric: Rubric, c: Criterion): Fraction =>
  rubric.by === 'weights' ? fromNumber(c.weight ?? 0) : fromNumber(topOf(c));

/** What it brings: its points, or its weight by the share of its points. */
function givenOf(rubric: Rubric, c: Criterion, points: number): Fraction {
  if (rubric.by === 'points') return fromNumber(points);
  const top = fromNumber(topOf(c));
  return isZero(top) ? ZERO : divide(multiply(fromNumber(c.weight ?? 0), fromNumber(points)), top);
}
