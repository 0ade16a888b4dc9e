import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbBook, smallBook } from '../../testing/books';
import { checkBook, readBook } from './check';

const pointers = (book: unknown): string[] => {
  const checked = checkBook(book);
  return checked.ok ? [] : checked.problems.map((p) => p.at);
};

/** Every place of a document: its pointer, and a copy of the document with another value there. */
function places(value: unknown, at = ''): { at: string; put(root: unknown, v: unknown): unknown }[] {
  if (typeof value !== 'object' || value === null) return [];
  return Object.keys(value).flatMap((key) => {
    const here = `${at}/${key}`;
    const put = (root: unknown, v: unknown): unknown => {
      const copy = structuredClone(root) as Record<string, unknown>;
      const path = here.slice(1).split('/');
      let o = copy;
      for (const k of path.slice(0, -1)) o = o[k] as Record<string, unknown>;
      o[path[path.length - 1]!] = v;
      return copy;
    };
    return [{ at: here, put }, ...places((value as Record<string, unknown>)[key], here)];
  });
}

describe('the check of a document', () => {
  it('passes sound books and refuses one with any value of a wrong kind, pointing at it', () => {
    fc.assert(
      fc.property(arbBook, fc.nat(), (book, pick) => {
        expect(pointers(book)).toEqual([]);
        const all = places(book);
        const place = all[pick % all.length]!;
        const found = pointers(place.put(book, Symbol.for('no value') as unknown));
        expect(found.some((p) => p === place.at || p.startsWith(`${place.at}/`) || place.at.startsWith(p))).toBe(true);
        const unknown = structuredClone(book) as unknown as Record<string, unknown>;
        unknown['colour'] = 'red';
        expect(pointers(unknown)).toEqual(['/colour']);
      }),
      { numRuns: 300 },
    );
  });

  it.each([
    [
      'a negative number',
      { entries: [{ student: 's1', item: 'a', attempts: [{ score: -1 }] }] },
      '/entries/0/attempts/0/score',
    ],
    ['more than four decimals', { entries: [{ student: 's1', item: 'a', set: 1.00001 }] }, '/entries/0/set'],
    ['a number too large', { entries: [{ student: 's1', item: 'a', set: 1e308 }] }, '/entries/0/set'],
    ['a time zone that does not exist', { timeZone: 'Mars/Base' }, '/timeZone'],
    ['an unknown student', { entries: [{ student: 'x', item: 'a' }] }, '/entries/0/student'],
    [
      'a doubled entry',
      {
        entries: [
          { student: 's1', item: 'a' },
          { student: 's1', item: 'a' },
        ],
      },
      '/entries/1',
    ],
    ['an override of nothing', { overrides: [{ student: 's1' }] }, '/overrides/0'],
    [
      'a scale without a band from 0',
      { rules: { ...smallBook().rules, scales: { letters: { bands: [{ label: 'A', from: 80 }] } } } },
      '/rules/scales/letters/bands',
    ],
    [
      'a date that does not exist',
      { rules: { ...smallBook().rules, late: { steady: { unit: 'day', deduct: 1, skipDates: ['2027-02-30'] } } } },
      '/rules/late/steady/skipDates/0',
    ],
    [
      'steps that do not rise',
      {
        rules: {
          ...smallBook().rules,
          late: {
            steady: {
              steps: [
                { hours: 5, deduct: 1 },
                { hours: 5, deduct: 2 },
              ],
              after: 9,
            },
          },
        },
      },
      '/rules/late/steady/steps/1/hours',
    ],
    ['extra time beyond reason', { students: [{ id: 's1', extraTimeHours: 10_001 }] }, '/students/0/extraTimeHours'],
    ['a missing key, at the object that lacks it', { rounding: { decimals: 1 } }, '/rounding'],
  ])('refuses %s', (_what, part, at) => expect(pointers(smallBook(part as never))).toEqual([at]));

  it('lists the first thousand problems and counts the others', () => {
    const checked = checkBook(
      smallBook({ entries: Array.from({ length: 1500 }, () => ({ student: 'x', item: 'a' })) }),
    );
    expect(checked).toMatchObject({ ok: false, more: 500 });
    expect(checked.ok ? 0 : checked.problems.length).toBe(1000);
  });

  it('ends with a sentence on hostile text', () => {
    expect(readBook('{"format": ')).toMatchObject({ ok: false, problems: [{ at: '' }] });
    expect(readBook('[]')).toMatchObject({ ok: false });
    let deep = '{"id":"x","type":"item","points":1}';
    for (let i = 0; i < 5_000; i++) deep = `{"id":"g${i}","type":"group","combine":"points","children":[${deep}]}`;
    const book = JSON.stringify(smallBook()).replace(/"tree":\{.*?\]\},/, `"tree":${deep},`);
    expect(readBook(book)).toMatchObject({ ok: false });
    const proto = checkBook(JSON.parse('{"__proto__": {"format": 1}}'));
    expect(proto).toMatchObject({ ok: false });
  });
});
