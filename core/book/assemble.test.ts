import { describe, expect, it } from 'vitest';
import { computeBook } from '../calculation/result';
import { randomBook } from '../testing/random-book';
import { anyBook } from '../testing/random-policies';
import { assembleBook, assembleSkeleton, rulesOf, type PlacedItem } from './assemble';
import { canonical } from './canonical';
import { apply, contentOf, isEmpty } from './change';
import { groupsOf, itemsOf, type BookDocument, type Group } from './document';
import { tries } from '../testing/tries';

const placedOf = (book: BookDocument): PlacedItem[] =>
  groupsOf(book.tree).flatMap((g) =>
    g.children.flatMap((c) => (c.type === 'item' ? [{ category: g.id, item: c }] : [])),
  );

/** The tree with the groups and alsos of each group before its items: the order that a book kept in rows has. */
const groupsFirst = (g: Group): Group => ({
  ...g,
  children: [
    ...g.children.flatMap((c) => (c.type === 'item' ? [] : [c.type === 'group' ? groupsFirst(c) : c])),
    ...g.children.filter((c) => c.type === 'item'),
  ],
});

describe('a book taken apart into rules and items', () => {
  it('is put together again as it was', () => {
    for (let seed = 0; seed < tries(200); seed++) {
      const random = anyBook(seed);
      const book = { ...random, tree: groupsFirst(random.tree) };
      const { overrides, ...bare } = book;
      const rules = rulesOf(book);
      expect(itemsOf(rules.tree)).toEqual([]);
      const again = assembleBook(
        assembleSkeleton(book.timeZone, rules, placedOf(book)),
        book.asOf,
        book.students,
        book.entries,
      );
      expect(canonical(again)).toBe(canonical(bare));
      if (overrides === undefined) expect(computeBook(again)).toEqual(computeBook(book));
    }
  });

  it('loses no work whose category is gone: it stands in the whole', () => {
    const book = randomBook(3);
    const placed = placedOf(book).map((p) => ({ ...p, category: 'gone' }));
    const skeleton = assembleSkeleton(book.timeZone, rulesOf(book), placed);
    expect(skeleton.tree.children.filter((c) => c.type === 'item').map((c) => c.id)).toEqual(
      placed.map((p) => p.item.id),
    );
  });
});

describe('a change of a book', () => {
  it('is undone by the content from before, to the last byte', () => {
    for (let seed = 0; seed < tries(300); seed++) {
      const book = anyBook(seed);
      const sorted = (b: BookDocument): string =>
        canonical({ ...b, entries: [...b.entries].map(canonical).sort() } as unknown);
      book.entries.forEach((entry, i) => {
        if (i % 4 > 0) return;
        const { student, item } = entry;
        const other = contentOf(book.entries[(i + 1) % book.entries.length]);
        const changed = apply(book, { kind: 'cell', student, item, is: i % 8 === 0 ? {} : other });
        const back = apply(changed, { kind: 'cell', student, item, is: contentOf(entry) });
        // An entry that holds nothing is no entry.
        if (!isEmpty(contentOf(entry))) expect(sorted(back)).toBe(sorted(book));
      });
    }
  });

  it('of the rules is undone by the rules from before', () => {
    for (let seed = 0; seed < 50; seed++) {
      const book = anyBook(seed);
      const part = (b: BookDocument) => ({ ...rulesOf(b), tree: b.tree });
      const other = { ...part(book), late: null, rounding: { decimals: 0, mode: 'down' as const } };
      const changed = apply(book, { kind: 'rules', is: other });
      expect(changed.rounding.decimals).toBe(0);
      const back = apply(changed, { kind: 'rules', is: { late: undefined, ...part(book) } });
      expect(canonical(back)).toBe(canonical(book));
    }
  });
});
