import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { storable, storableJson } from './storable';

describe('a text that can be kept', () => {
  it('is the same without what cannot', () => {
    expect(storable('a\0b\ud800c😀\udc00')).toBe('abc😀');
    // Halves of characters at random, between what may stand there.
    const pieces = fc.array(fc.constantFrom('\0', '\ud83d', '\ude00', '😀', 'ä', ' ', '\n', 'x'), { maxLength: 12 });
    fc.assert(
      fc.property(pieces, (all) => {
        const kept = storable(all.join(''));
        expect(kept.includes('\0') || /\p{Cs}/u.test(kept)).toBe(false);
        expect(storable(kept)).toBe(kept);
        expect([...kept].filter((c) => 'ä \nx'.includes(c))).toEqual(all.filter((c) => 'ä \nx'.includes(c)));
      }),
    );
  });

  it('is what is sent, and anything else is sent as it is', () => {
    expect(JSON.parse(storableJson({ a: ['x\0', { b: '\ud83d' }], n: 1, none: null }))).toEqual({
      ...{ a: ['x', { b: '' }], n: 1, none: null },
    });
    expect(JSON.parse(storableJson({ words: 'a \\u0000 that somebody wrote' }))).toEqual({
      words: 'a \\u0000 that somebody wrote',
    });
  });
});
