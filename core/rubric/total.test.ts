import { describe, expect, it } from 'vitest';
import type { Rubric } from './document';
import { rubricTotal, totalWords } from './total';

const level = (points: number) => ({ points, words: `level of ${points}` });
const RUBRIC = {
  ...{ by: 'points', scaled: false },
  criteria: [
    { id: 'a', title: 'Drawing', stands: 'counts', levels: [level(1), level(6)] },
    { id: 'b', title: 'Reading', stands: 'counts', levels: [level(2), level(8)] },
    { id: 'c', title: 'On top', stands: 'bonus', levels: [level(2)] },
  ],
} as unknown as Rubric;
const plain = (points: string): string => points;

describe('what a rubric comes to', () => {
  it('is the sum of what was given, of what counts at most', () => {
    const marks = { a: { points: 6 }, b: { points: 7.5 }, c: { points: 2 } };
    expect(rubricTotal(RUBRIC, marks, 20)).toEqual({ points: 15.5, of: 14 });
    expect(rubricTotal({ ...RUBRIC, scaled: true } as Rubric, { a: { points: 6 }, b: { points: 8 } }, 20)).toEqual({
      ...{ points: 20, of: 20 },
    });
    expect(rubricTotal(RUBRIC, {}, 20)).toBeNull();
  });

  it('says so where the score is another', () => {
    const total = { points: 15.5, of: 14 };
    expect(totalWords(total, null, plain)).toBe('Together 15.5 of 14.');
    expect(totalWords(total, '31/2', plain)).toBe('Together 15.5 of 14.');
    expect(totalWords(total, '19', (p) => p.replace('.', ','))).toBe(
      'Together 15,5 of 14. The score is not this sum: 19 was given in its place.',
    );
  });
});
