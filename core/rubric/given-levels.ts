import { add, divide, fromNumber, ZERO } from '../exact/fraction';
import { roundedText } from '../exact/rounding';
import type { Criterion, Rubric, RubricMarks } from './document';
import { levelReached } from './levels';

/** Some criteria were given something, and others nothing yet: such work waits to be marked on. */
export function isMarkedInPart(rubric: Rubric, marks: RubricMarks): boolean {
  const given = rubric.criteria.filter((c) => Object.hasOwn(marks, c.id)).length;
  return given > 0 && given < rubric.criteria.length;
}

/** What a class was given for one criterion. */
export interface CriterionStatistics {
  criterion: Criterion;
  /** How many reached each level, from below the first on: `counts[0]` are below it. Past a level counts as that level. */
  counts: number[];
  leftOut: number;
  /** Not assessed yet. */
  open: number;
  /** Of those with points, to two decimals; null: nobody has some. */
  mean: number | null;
}

/** How a class stands in each criterion of a rubric; `drafts`: the marks of every piece of work. */
export function rubricStatistics(rubric: Rubric, drafts: readonly RubricMarks[]): CriterionStatistics[] {
  return rubric.criteria.map((criterion) => {
    const counts = new Array<number>(criterion.levels.length + 1).fill(0);
    let [leftOut, open, given, sum] = [0, 0, 0, ZERO];
    for (const marks of drafts) {
      const mark = Object.hasOwn(marks, criterion.id) ? marks[criterion.id] : undefined;
      if (mark === undefined) open++;
      else if ('leftOut' in mark) leftOut++;
      else {
        counts[levelReached(criterion, mark.points).level]!++;
        given++;
        sum = add(sum, fromNumber(mark.points));
      }
    }
    const mean = given === 0 ? null : Number(roundedText(divide(sum, fromNumber(given)), 2, 'half-up'));
    return { criterion, counts, leftOut, open, mean };
  });
}

/** A student's marks as they stand in a file. */
export interface LevelRow {
  number: string;
  family: string;
  given: string;
  section: string;
  marks: RubricMarks;
  /** What the levels make; null: nothing is given. */
  sum: number | null;
  /** The score that stands, marked; empty: none. */
  score: string;
}

/** Scores by criterion as a table of text cells, a student in each row. */
export function levelTable(rubric: Rubric, rows: readonly LevelRow[]): string[][] {
  const cell = (marks: RubricMarks, id: string): string => {
    const mark = Object.hasOwn(marks, id) ? marks[id] : undefined;
    return mark === undefined ? '' : 'leftOut' in mark ? 'left out' : String(mark.points);
  };
  return [
    ['Number', 'Family name', 'Given name', 'Section', ...rubric.criteria.map((c) => c.title), 'Levels’ sum', 'Score'],
    ...rows.map((r) => [
      ...[r.number, r.family, r.given, r.section],
      ...rubric.criteria.map((c) => cell(r.marks, c.id)),
      ...[r.sum === null ? '' : String(r.sum), r.score],
    ]),
  ];
}
