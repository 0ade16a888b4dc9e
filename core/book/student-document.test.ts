import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbBook } from '../testing/books';
import { canonical } from './canonical';
import type { EntryContent } from './change';
import { checkBook } from './check';
import { itemsOf, type BookDocument } from './document';
import { studentDocument, type LiveEntry, type StudentFacts } from './student-document';

const arbContent: fc.Arbitrary<EntryContent> = fc.record(
  {
    attempts: fc.array(fc.record({ score: fc.integer({ min: 0, max: 20 }) }), { minLength: 1, maxLength: 2 }),
    set: fc.integer({ min: 0, max: 20 }),
    protected: fc.boolean(),
    state: fc.constantFrom('missing' as const, 'awaiting' as const),
  },
  { requiredKeys: [] },
);

/** Facts of a student to whom a, b and e are released, from a book; `live` is what staff see now. */
function factsOf(book: BookDocument, live: ReadonlyMap<string, LiveEntry>): StudentFacts {
  const { students, entries, asOf, overrides: _o, ...skeleton } = book;
  const released = new Map(
    entries
      .filter((e) => ['a', 'b', 'e'].includes(e.item))
      .map(({ student: _s, item, ...content }): [string, EntryContent] => [item, content]),
  );
  return {
    student: students[0]!,
    asOf,
    skeleton,
    visible: new Set(['a', 'b', 'c', 'e', 'f', 'h']),
    takesWork: new Set(['f']),
    released,
    live,
  };
}

describe('the student’s document', () => {
  it('is sound, and holds nothing that students cannot see', () => {
    fc.assert(
      fc.property(arbBook, (book) => {
        const own = studentDocument(factsOf(book, new Map()));
        expect(checkBook(own)).toMatchObject({ ok: true });
        expect(itemsOf(own.tree).map((i) => i.id)).toEqual(['a', 'b', 'c', 'e', 'f', 'h']);
        expect(own.students).toHaveLength(1);
        expect(own.overrides).toBe(undefined);
      }),
    );
  });

  it('does not change by a byte whatever scores, states, sets and protections are now', () => {
    fc.assert(
      fc.property(
        arbBook,
        fc.array(arbContent, { minLength: 8, maxLength: 8 }),
        fc.array(arbContent, { minLength: 8, maxLength: 8 }),
        (book, one, two) => {
          const live = (contents: EntryContent[]): Map<string, LiveEntry> =>
            new Map(
              contents.map((content, i) => [
                'abcdefgh'[i]!,
                { content, handedIn: (content.attempts ?? []).map(() => false) },
              ]),
            );
          const first = canonical(studentDocument(factsOf(book, live(one))));
          expect(canonical(studentDocument(factsOf(book, live(two))))).toBe(first);
          const noted = { ...book, info: { note: 'staff' }, tree: { ...book.tree, info: { staff: true } } };
          expect(canonical(studentDocument(factsOf(noted, live(one))))).toBe(first);
        },
      ),
    );
  });

  it('tells an excuse, own dates and what the student handed in at once, and no score of it', () => {
    const [book] = fc.sample(arbBook, { numRuns: 1, seed: 4 });
    const live = new Map<string, LiveEntry>([
      ['c', { content: { state: 'excused', attempts: [{ score: 3 }] }, handedIn: [false] }],
      [
        'f',
        {
          content: {
            attempts: [{ score: 9, receivedAt: '2027-01-09T09:00:00Z' }, { score: 2 }],
            dueAt: '2027-01-20T17:00:00Z',
          },
          handedIn: [true, false],
        },
      ],
    ]);
    const own = studentDocument(factsOf(book!, live));
    expect(own.entries.find((e) => e.item === 'c')).toEqual({ student: 's1', item: 'c', state: 'excused' });
    expect(own.entries.find((e) => e.item === 'f')).toEqual({
      student: 's1',
      item: 'f',
      dueAt: '2027-01-20T17:00:00Z',
      attempts: [{ receivedAt: '2027-01-09T09:00:00Z' }],
    });
    expect(own.entries.find((e) => e.item === 'h')).toEqual({ student: 's1', item: 'h', state: 'awaiting' });
  });
});
