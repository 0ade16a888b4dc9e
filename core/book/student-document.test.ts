import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbBook } from '../testing/books';
import { Choices } from '../testing/random-book';
import { anyBook } from '../testing/random-policies';
import type { Skeleton } from './assemble';
import { canonical } from './canonical';
import type { EntryContent } from './change';
import { checkBook } from './checks/check';
import { itemsOf, type BookDocument } from './document';
import { studentDocument, type LiveEntry, type StudentFacts } from './student-document';
import { tries } from '../testing/tries';

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

  it('changes by not a byte for anything unreleased, in any book: scores, states, notes, other students, hidden work', () => {
    for (let seed = 0; seed < tries(600); seed++) {
      const c = new Choices(seed + 9);
      const book = anyBook(seed);
      const items = itemsOf(book.tree).map((i) => i.id);
      const visible = new Set(items.filter(() => c.chance(0.8)));
      const takesWork = new Set(items.filter(() => c.chance(0.6)));
      const own = book.entries.filter((e) => e.student === 's0');
      const released = new Map(
        own
          .filter((e) => visible.has(e.item) && c.chance(0.4))
          .map(({ student: _s, item, ...content }): [string, EntryContent] => [item, content]),
      );
      const { students, entries: _e, overrides: _o, asOf, ...skeleton } = book;
      const facts = (live: Map<string, LiveEntry>, rules: Skeleton): string =>
        canonical(
          studentDocument({ student: students[0]!, asOf, skeleton: rules, visible, takesWork, released, live }),
        );
      const hasBank = Object.values(book.rules?.late ?? {}).some((rule) => rule.bank !== undefined);
      const live = new Map(own.map(({ student: _s, item, ...content }) => [item, handed(content, c)]));
      const first = facts(live, skeleton);
      const other = new Map(items.map((id) => [id, changedUnseen(live.get(id), c, hasBank)]));
      // Staff's notes anywhere in the rules, and another name for what nobody sees.
      const noted = JSON.parse(JSON.stringify(skeleton), (_key, v: unknown) =>
        typeof v === 'object' && v !== null && !Array.isArray(v) ? { ...v, info: { note: `staff ${seed}` } } : v,
      ) as Skeleton;
      expect(facts(other, noted)).toBe(first);
      const document = JSON.parse(first) as BookDocument;
      expect(checkBook(document)).toMatchObject({ ok: true });
      expect(first).not.toContain('staff');
      expect(itemsOf(document.tree).map((i) => i.id)).toEqual(items.filter((id) => visible.has(id)));
      for (const e of document.entries) {
        if (released.has(e.item)) continue;
        expect(Object.keys(e).filter((k) => ['set', 'protected'].includes(k))).toEqual([]);
        expect(e.state === undefined || e.state === 'excused' || e.state === 'awaiting').toBe(true);
        const seen = hasBank ? ['receivedAt', 'onTime', 'lateUnits'] : ['receivedAt'];
        for (const a of e.attempts ?? []) expect(Object.keys(a).filter((k) => !seen.includes(k))).toEqual([]);
      }
    }
  });

  it('holds an override only once that is released', () => {
    const [book] = fc.sample(arbBook, { numRuns: 1, seed: 4 });
    const facts = factsOf(book!, new Map());
    const override = { student: 's1', percent: 71.5, reason: 'board', info: { staff: true } };
    expect(studentDocument(facts).overrides).toBe(undefined);
    expect(studentDocument({ ...facts, override }).overrides).toEqual([
      { student: 's1', percent: 71.5, reason: 'board' },
    ]);
  });
});

const handed = (content: EntryContent, c: Choices): LiveEntry => ({
  content,
  handedIn: (content.attempts ?? []).map(() => c.chance(0.5)),
});

/** Another live entry that a student cannot tell from this one before anything is released. */
function changedUnseen(live: LiveEntry | undefined, c: Choices, hasBank: boolean): LiveEntry {
  const was = live?.content ?? {};
  const seen: EntryContent = {};
  for (const key of ['dueAt', 'closesAt', 'lateAllowances'] as const)
    if (was[key] !== undefined) Object.assign(seen, { [key]: was[key] });
  const kept = (was.attempts ?? []).filter((a, i) => live!.handedIn[i] && a.receivedAt !== undefined);
  const attempts = [
    // How late it is taken to be settles what a bank gives elsewhere, so that is seen.
    ...kept.map((a) => ({ ...a, mark: undefined, score: c.int(0, 90), ...(hasBank ? {} : { onTime: c.chance(0.5) }) })),
    ...(c.chance(0.5) ? [{ score: c.int(0, 20), receivedAt: '2026-11-11T11:11:11Z' }] : []),
  ];
  return {
    content: {
      ...seen,
      ...(was.state === 'excused' ? { state: 'excused' as const } : c.chance(0.3) ? { state: 'missing' as const } : {}),
      ...(attempts.length > 0 ? { attempts } : {}),
      ...(c.chance(0.3) ? { set: c.int(0, 20) } : {}),
      ...(c.chance(0.3) ? { protected: true } : {}),
    },
    handedIn: attempts.map((_, i) => i < kept.length),
  };
}
