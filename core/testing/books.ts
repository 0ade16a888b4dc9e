import fc from 'fast-check';
import { anyBook } from './random-policies';
import type { BookDocument, Entry, Group, Hurdle, Item, Node } from '../book/document';

/** A small sound book for tests; `more` is put over it. */
export function smallBook(more: Partial<BookDocument> = {}): BookDocument {
  return {
    format: 'last-tally.book/1',
    timeZone: 'Europe/Dublin',
    asOf: '2027-02-01T12:00:00Z',
    rules: {
      late: { steady: { unit: 'day', deduct: 10, max: 50, graceMinutes: 15 } },
      blank: { usual: { beforeDue: 'skip', afterDue: { percent: 0 } } },
      scales: {
        letters: {
          bands: [
            { label: 'A', from: 80 },
            { label: 'B', from: 50 },
            { label: 'F', from: 0 },
          ],
        },
      },
      marks: {
        'pass-fail': [
          { label: 'Pass', percent: 100 },
          { label: 'Fail', percent: 0 },
        ],
      },
    },
    blank: 'usual',
    late: 'steady',
    scale: 'letters',
    rounding: { decimals: 1, mode: 'half-up' },
    tree: {
      id: 'all',
      type: 'group',
      combine: 'points',
      children: [{ id: 'a', type: 'item', points: 20, due: '2027-01-10T17:00:00Z' }],
    },
    students: [{ id: 's1' }],
    entries: [],
    ...more,
  };
}

const amount = (most: number): fc.Arbitrary<number> => fc.integer({ min: 0, max: most * 4 }).map((n) => n / 4);

const arbItem = (id: string): fc.Arbitrary<Item> =>
  fc.record(
    {
      id: fc.constant(id),
      type: fc.constant('item' as const),
      points: fc.integer({ min: 1, max: 40 }),
      weight: amount(10),
      extraCredit: fc.boolean(),
      counts: fc.boolean(),
      alwaysKept: fc.boolean(),
      due: fc.constantFrom('2027-01-10T17:00:00Z', '2027-03-10T17:00:00Z'),
      attempts: fc.oneof(
        fc.record({
          use: fc.constantFrom('best' as const, 'latest' as const, 'first' as const, 'mean' as const),
          retakeCap: amount(100),
        }),
        fc.record({ use: fc.constant('decaying' as const), newest: fc.integer({ min: 1, max: 100 }) }),
        fc.record({
          use: fc.constant('regain' as const),
          regain: amount(100),
          retakeCap: fc.array(amount(100), { minLength: 1, maxLength: 3 }),
        }),
      ),
    },
    { requiredKeys: ['id', 'type', 'points'] },
  );

function arbGroup(id: string, children: fc.Arbitrary<Node[]>): fc.Arbitrary<Group> {
  return fc
    .record(
      {
        combine: fc.constantFrom('points' as const, 'weights' as const, 'equal' as const),
        weight: amount(60),
        drop: fc.record({ lowest: fc.integer({ min: 0, max: 3 }), highest: fc.integer({ min: 0, max: 2 }) }),
        keepBest: fc.integer({ min: 1, max: 3 }),
        whenEmpty: fc.constantFrom('skip' as const, 'zero' as const),
        cap: fc.constantFrom(90, 100),
        children,
      },
      { requiredKeys: ['combine', 'children'] },
    )
    .map((g): Group => {
      const { drop, keepBest, ...rest } = g;
      const either = keepBest === undefined ? (drop === undefined ? {} : { drop }) : { keepBest };
      return { id, type: 'group', ...rest, ...either };
    });
}

const arbEntry = (item: string): fc.Arbitrary<Omit<Entry, 'student'> | null> =>
  fc.oneof(
    { weight: 2, arbitrary: fc.constant(null) },
    {
      weight: 6,
      arbitrary: fc.record(
        {
          item: fc.constant(item),
          attempts: fc.array(
            fc.record(
              {
                score: amount(40),
                receivedAt: fc.constantFrom('2027-01-10T16:00:00Z', '2027-01-11T18:30:00Z', '2027-01-14T10:00:00Z'),
              },
              { requiredKeys: [] },
            ),
            { maxLength: 3 },
          ),
          state: fc.constantFrom('excused' as const, 'missing' as const, 'awaiting' as const),
          set: amount(20),
          protected: fc.boolean(),
          dueAt: fc.constant('2027-01-13T17:00:00Z'),
        },
        { requiredKeys: ['item'] },
      ),
    },
  );

/** Sound books of up to nine items in nested groups, one student. */
export const arbBook: fc.Arbitrary<BookDocument> = fc
  .record({
    tree: arbGroup(
      'all',
      fc.tuple(
        arbGroup('g1', fc.tuple(arbItem('a'), arbItem('b'), arbItem('c'), arbItem('d'))),
        arbGroup('g2', fc.tuple(arbItem('e'), arbGroup('g3', fc.tuple(arbItem('f'), arbItem('g'))))),
        arbItem('h'),
      ),
    ),
    entries: fc.tuple(...['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'].map(arbEntry)),
    closing: fc.boolean(),
    hurdles: fc.constantFrom<Hurdle[][]>([], [{ node: 'g1', atLeast: 40, capAt: 39 }]),
  })
  .map(({ tree, entries, closing, hurdles }) =>
    smallBook({ tree, closing, hurdles, entries: entries.flatMap((e) => (e ? [{ student: 's1', ...e }] : [])) }),
  );

/** Sound books of every feature with up to four students (see {@link anyBook}); a failing one is told by its seed. */
export const arbAnyBook: fc.Arbitrary<BookDocument> = fc.nat({ max: 2 ** 31 - 1 }).map(anyBook);
