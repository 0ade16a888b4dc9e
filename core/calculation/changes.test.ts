import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { BookDocument, Entry } from '../book/document';
import { contentOf } from '../book/change';
import { arbAnyBook } from '../testing/books';
import { anyBook } from '../testing/random-policies';
import { risesWithScores } from '../warnings/group-warnings';
import { earnedAt, putEntry } from './cells/cells';
import { compileBook, type CompiledBook } from './compiled/compile';
import type { CompiledItem } from './compiled/compiled';
import { workOutStudent } from './final';
import { entriesOf, entryAt } from './cells/entries-by-item';
import { computeBook, makeResulter, resultOf } from './result';
import { standingsOf } from '../estimate/standings';
import { compare, ZERO } from '../exact/fraction';
import { tries } from '../testing/tries';

/** Everything that a compiled book gives, as one text. */
function everything(compiled: CompiledBook): string {
  const resulter = makeResulter(compiled);
  const { exactCount: _looks, ...standings } = standingsOf(compiled);
  return JSON.stringify([
    compiled.students.map((_, s) => resultOf(resulter, s)),
    [...compiled.cells.kind],
    [...compiled.cells.earned],
    [...compiled.cells.exact].sort((a, b) => a[0] - b[0]),
    Object.values(standings).map((column) => (ArrayBuffer.isView(column) ? [...(column as Float64Array)] : column)),
  ], (_key, value: unknown) => (typeof value === 'bigint' ? `${value}n` : value)); // prettier-ignore
}

describe('a change to a compiled book', () => {
  it('gives the same bytes as working out from scratch, and undone the bytes from before', () => {
    fc.assert(
      fc.property(fc.nat(), fc.array(fc.tuple(fc.nat(), fc.nat()), { minLength: 1, maxLength: 8 }), (seed, steps) => {
        const book = anyBook(seed);
        // Entries of another book with the same tree are what cells are changed to.
        const pool = book.entries.map((e) => contentOf(e));
        if (pool.length === 0) return;
        const compiled = compileBook(book);
        const before = everything(compiled);
        const undo: (() => void)[] = [];
        for (const [where, what] of steps) {
          const s = where % compiled.students.length;
          const item = compiled.items[(where >> 3) % compiled.items.length]!;
          const was = entryAt(compiled, s, item.index);
          const content = pool[what % pool.length]!;
          const marks = item.marks !== null || !content.attempts?.some((a) => a.mark !== undefined);
          const is: Entry | undefined =
            what % 5 === 0 || !marks ? undefined : { student: compiled.students[s]!.id, item: item.id, ...content };
          putEntry(compiled, s, item.index, is);
          undo.unshift(() => putEntry(compiled, s, item.index, was));
        }
        const now: BookDocument = {
          ...book,
          entries: entriesOf(compiled),
        };
        expect(everything(compiled)).toBe(everything(compileBook(now)));
        for (const back of undo) back();
        expect(everything(compiled)).toBe(before);
      }),
      // The example: a drop chosen with blanks as nothing, under a group that is empty without them.
      { numRuns: tries(400), examples: [[2138578917, [[0, 0]]]] },
    );
  });
});

describe('a book', () => {
  it('gives everybody the same whatever the order of students and entries', () => {
    fc.assert(
      fc.property(arbAnyBook, fc.nat(), (book, turn) => {
        const rotate = <T>(list: T[]): T[] =>
          [...list.slice(turn % (list.length || 1)), ...list.slice(0, turn % (list.length || 1))].reverse();
        const turned = {
          ...book,
          students: rotate(book.students),
          entries: rotate(book.entries),
          overrides: rotate(book.overrides ?? []),
        };
        const byId = (b: BookDocument): unknown => Object.fromEntries(computeBook(b).students.map((s) => [s.id, s]));
        expect(byId(turned)).toEqual(byId(book));
      }),
      { numRuns: tries(300) },
    );
  });

  it('never gives less for a higher score, where no warning says that it may', () => {
    let tried = 0;
    for (let seed = 0; seed < tries(4_000); seed++) {
      const book = anyBook(seed);
      const compiled = compileBook(book);
      if (!risesWithScores(book, compiled)) continue;
      for (let e = 0; e < book.entries.length; e++) {
        const entry = book.entries[e]!;
        const k = (entry.attempts ?? []).findIndex((a) => a.score !== undefined);
        if (k < 0 || (seed + e) % 3 > 0) continue;
        const attempts = entry.attempts!.map((a, i) =>
          i === k ? { ...a, score: a.score! + [0.25, 1, 7][e % 3]! } : a,
        );
        const s = compiled.studentIndex.get(entry.student)!;
        const node = compiled.nodes.get(entry.item) as CompiledItem;
        // More absences are no higher score.
        if (node.isCount) continue;
        const was = workOutStudent(compiled, s).final.exact;
        putEntry(compiled, s, node.index, { ...entry, attempts });
        const is = workOutStudent(compiled, s).final.exact;
        putEntry(compiled, s, node.index, entry);
        tried++;
        if (was !== null && compare(is ?? ZERO, was) < 0)
          throw new Error(`book ${seed}, entry ${e}: ${JSON.stringify(entry)}`);
      }
    }
    expect(tried).toBeGreaterThan(tries(3_000));
  }, 120_000);

  it('holds every value exactly: a cell’s fraction is the one that its entry gives alone', () => {
    fc.assert(
      fc.property(arbAnyBook, (book) => {
        const compiled = compileBook(book);
        compiled.cells.exact.forEach((f, at) => {
          expect(earnedAt(compiled.cells, at)).toBe(f);
          // A decimal of four places never stands apart.
          expect(10_000 % Number(f.d) === 0 && Number(f.n) / Number(f.d) <= 1e9).toBe(false);
        });
      }),
      { numRuns: tries(200) },
    );
  });
});
