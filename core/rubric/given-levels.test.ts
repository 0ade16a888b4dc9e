import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Rubric, RubricMarks } from './document';
import { levelTable, rubricStatistics } from './given-levels';

const levels = (...points: number[]) => points.map((p, i) => ({ id: `l${i}`, points: p, words: '' }));
const PIT: Rubric = {
  by: 'points',
  criteria: [
    { id: 'a', title: 'Drawing', stands: 'counts', levels: levels(1, 3, 6) },
    { id: 'b', title: 'Reading', stands: 'counts', levels: levels(0, 4) },
  ],
};
const marks = (a?: number | 'out', b?: number): RubricMarks => ({
  ...(a === undefined ? {} : { a: a === 'out' ? { leftOut: true as const } : { points: a } }),
  ...(b === undefined ? {} : { b: { points: b } }),
});

describe('what a class was given', () => {
  it('is counted by level, with the mean of those that have points', () => {
    const [drawing, reading] = rubricStatistics(PIT, [marks(6, 4), marks(3.5, 0), marks(0.5), marks('out'), marks()]);
    expect(drawing).toMatchObject({ counts: [1, 0, 1, 1], leftOut: 1, open: 1, mean: 3.33 });
    expect(reading).toMatchObject({ counts: [0, 1, 1], leftOut: 0, open: 3, mean: 2 });
    expect(rubricStatistics(PIT, [])[0]!.mean).toBeNull();
  });

  it('counts everybody once in each criterion', () => {
    const points = fc.option(fc.oneof(fc.constant('out' as const), fc.integer({ min: 0, max: 24 }).map((n) => n / 4)), { nil: undefined }); // prettier-ignore
    fc.assert(
      fc.property(fc.array(points, { maxLength: 30 }), (all) => {
        const [s] = rubricStatistics(PIT, all.map((p) => marks(p))); // prettier-ignore
        expect(s!.counts.reduce((a, b) => a + b, 0) + s!.leftOut + s!.open).toBe(all.length);
      }),
    );
  });

  it('is a table with a student in each row', () => {
    const who = { number: 'N1', family: 'Adler', given: 'Ada', section: '' };
    expect(
      levelTable(PIT, [
        { ...who, marks: marks('out', 4), sum: 10, score: '9.5' },
        { ...who, marks: {}, sum: null, score: '' },
      ]),
    ).toEqual([
      ['Number', 'Family name', 'Given name', 'Section', 'Drawing', 'Reading', 'Levels’ sum', 'Score'],
      ['N1', 'Adler', 'Ada', '', 'left out', '4', '10', '9.5'],
      ['N1', 'Adler', 'Ada', '', '', '', '', ''],
    ]);
  });
});
