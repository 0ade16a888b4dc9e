import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rulesOf } from '../../book/assemble';
import { canonical } from '../../book/canonical';
import { checkBook } from '../../book/checks/check';
import { groupsOf, itemsOf, type BookDocument } from '../../book/document';
import { standingAt, standingsOf } from '../../estimate/standings';
import { arbAnyBook } from '../../testing/books';
import { settingsOf, proposedBook, type ItemSettings, type Proposal } from '../../proposal/proposal';
import { putEntry } from '../cells/cells';
import { compileBook, type CompiledBook } from './compile';
import { entriesOf } from '../cells/entries-by-item';
import { recompile } from './recompile';

/** One change of a book's rules or of an item's settings, chosen by three numbers. */
function changed(
  wish: Proposal,
  book: BookDocument,
  [kind, which, amount]: readonly [number, number, number],
): Proposal {
  const next = structuredClone(wish);
  const groups = groupsOf(next.rules.tree);
  const group = groups[which % groups.length]!;
  const items = itemsOf(book.tree);
  if (items.length === 0) return next;
  const item = items[which % items.length]!;
  const settings: ItemSettings = (next.items[item.id] ??= settingsOf(item));
  const { rules } = next;
  switch (kind) {
    case 0:
      group.weight = amount;
      break;
    case 1:
      group.combine = (['points', 'weights', 'equal'] as const)[amount % 3]!;
      break;
    case 2:
      group.late = null;
      break;
    case 3:
      for (const late of Object.values(rules.rules?.late ?? {})) if (late.deduct !== undefined) late.deduct = amount;
      break;
    case 4:
      for (const blank of Object.values(rules.rules?.blank ?? {})) blank.afterDue = { percent: amount };
      break;
    case 5:
      rules.closing = rules.closing !== true;
      break;
    case 6:
      rules.lateAllowanceHours = amount;
      break;
    case 7:
      settings.curve = { kind: 'add', points: amount / 4 };
      break;
    case 8:
      settings.extraCredit = settings.extraCredit !== true;
      break;
    case 9:
      settings.attempts = { use: (['best', 'latest', 'first', 'mean'] as const)[amount % 4]!, retakeCap: 50 };
      break;
    case 10:
      group.extraCredit = group !== groups[0] && group.extraCredit !== true;
      break;
    default:
      settings.counts = settings.counts === false;
  }
  return next;
}

const figures = (compiled: CompiledBook): unknown => {
  const all = standingsOf(compiled);
  return compiled.students.map((_, s) => standingAt(all, s));
};

describe('a book compiled again under other rules', () => {
  it('is the same as one compiled anew, cell for cell and figure for figure', () => {
    const pick = fc.tuple(fc.nat({ max: 11 }), fc.nat(), fc.nat({ max: 100 }));
    let sound = 0;
    fc.assert(
      fc.property(arbAnyBook, fc.array(pick, { maxLength: 4 }), (any, picks) => {
        const book = proposedBook(any, { rules: rulesOf(any), items: {} });
        const wish = picks.reduce((w, p) => changed(w, book, p), { rules: rulesOf(book), items: {} } as Proposal);
        const after = proposedBook(book, wish);
        if (!checkBook(after).ok) return;
        sound++;
        const before = compileBook(book);
        const held = canonical(entriesOf(before));
        const again = recompile(before, after);
        const anew = compileBook(after);
        expect(again.cells.kind).toEqual(anew.cells.kind);
        expect(again.cells.earned).toEqual(anew.cells.earned);
        expect(again.cells.exact).toEqual(anew.cells.exact);
        expect(figures(again)).toEqual(figures(anew));
        expect(canonical(entriesOf(before))).toBe(held);
        expect(figures(before)).toEqual(figures(compileBook(book)));
      }),
    );
    expect(sound).toBeGreaterThan(40);
  });

  it('takes the entries as they are now, in whatever order the items stand', () => {
    fc.assert(
      fc.property(arbAnyBook, fc.nat(), (any, n) => {
        const book = proposedBook(any, { rules: rulesOf(any), items: {} });
        const compiled = compileBook(book);
        if (compiled.students.length === 0 || compiled.items.length === 0) return;
        const item = n % compiled.items.length;
        putEntry(compiled, 0, item, { student: compiled.students[0]!.id, item: compiled.items[item]!.id, set: 1.5 });
        const turned = { ...book.tree, children: [...book.tree.children].reverse() };
        const anew = compileBook({ ...book, tree: turned, entries: entriesOf(compiled) });
        const again = recompile(compiled, { ...book, tree: turned });
        expect(figures(again)).toEqual(figures(anew));
      }),
    );
  });
});
