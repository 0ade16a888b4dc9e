import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { counted, formOf, listed } from './count';

describe('words that go with a number', () => {
  it.each([
    [0, '0 scores'],
    [1, '1 score'],
    [1.5, '1.5 scores'],
    [2, '2 scores'],
  ])('%s', (n, text) => expect(counted(n, 'score')).toBe(text));
  it('takes another form where it is no s', () => {
    expect(counted(2, 'child', 'children')).toBe('2 children');
    expect([formOf(1, 'is', 'are'), formOf(7, 'is', 'are')]).toEqual(['is', 'are']);
  });
  it('lists every text, in its order', () => {
    expect([listed([]), listed(['a']), listed(['a', 'b']), listed(['a', 'b', 'c'])]).toEqual([
      '',
      'a',
      'a and b',
      'a, b and c',
    ]);
    fc.assert(
      fc.property(fc.array(fc.stringMatching(/^[a-z]{3,6}$/), { minLength: 1, maxLength: 6 }), (texts) => {
        expect(listed(texts).split(/, | and /)).toEqual(texts);
      }),
    );
  });
});
