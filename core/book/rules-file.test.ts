import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rulesOf } from './assemble';
import { canonical } from './canonical';
import { computeBook } from '../calculation/result';
import { arbAnyBook, smallBook } from '../testing/books';
import { placedItems, proposedBook } from '../proposal/proposal';
import { readRulesFile, rulesFileText } from './rules-file';

describe('rules as a file', () => {
  it('come back as what they were, from a file and from a whole book', () => {
    fc.assert(
      fc.property(arbAnyBook, (any) => {
        // Items stand behind groups, as rows are put together.
        const book = proposedBook(any, { rules: rulesOf(any), items: {} });
        for (const text of [rulesFileText(book), JSON.stringify(book)]) {
          const read = readRulesFile(text, placedItems(book));
          if ('problems' in read) throw new Error(read.problems[0]!.says);
          expect([read.strange, read.untold, read.homeless]).toEqual([[], [], []]);
          expect(canonical(computeBook(proposedBook(book, read.wish)))).toBe(canonical(computeBook(book)));
          expect(canonical(proposedBook(book, read.wish).tree)).toBe(canonical(book.tree));
        }
      }),
    );
  });

  it('say what has no place in the book they are brought into', () => {
    const from = smallBook();
    const into = smallBook({
      tree: {
        ...from.tree,
        children: [
          { id: 'other', type: 'group', combine: 'points', children: [{ id: 'x', type: 'item', points: 5 }] },
          ...from.tree.children.slice(1),
        ],
      },
    });
    const gone = from.tree.children[0]!.id;
    const read = readRulesFile(rulesFileText(from), placedItems(into));
    expect(read).toMatchObject({ strange: [gone], untold: ['x'], homeless: ['x'] });
  });

  it('are refused with where and why', () => {
    const at = (text: string): string[] => {
      const read = readRulesFile(text, []);
      return 'problems' in read ? read.problems.map((p) => p.at) : [];
    };
    expect(at('{')).toEqual(['']);
    expect(at('[]')).toEqual(['']);
    expect(at('{"format":"another/1"}')).toEqual(['/format']);
    const file = JSON.parse(rulesFileText(smallBook())) as Record<string, unknown>;
    expect(at(JSON.stringify({ ...file, blank: 'nowhere' }))).toEqual(['/blank']);
    expect(at(JSON.stringify({ ...file, students: [{ id: 's1', odd: 1 }] }))).not.toEqual([]);
    expect(at(JSON.stringify({ ...file, more: 1 }))).toEqual(['/more']);
  });
});
