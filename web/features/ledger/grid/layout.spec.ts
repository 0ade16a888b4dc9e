import type { Group } from '@core/book/document';
import { columnsOf, followed, moved, spansOf, topCategory } from './layout';
import { DEFAULT_VIEW } from '../view/view-settings';

const items = ['a1', 'a2', 'b1', 'a3'];
const category = (item: string): string => item[0]!;
const ids = (look: object): string[] =>
  columnsOf({ ...DEFAULT_VIEW, ...look }, items, category).map((c) => (c.kind === 'item' ? c.id : `Σ${c.category}`));

describe('the columns of the ledger', () => {
  it('stand in book order, or in another, without those hidden', () => {
    expect(ids({})).toEqual(items);
    expect(ids({ hidden: ['a2'], order: ['b1'] })).toEqual(['b1', 'a1', 'a3']);
  });

  it('fold a category to one total at its first place', () => {
    expect(ids({ folded: ['a'] })).toEqual(['Σa', 'b1']);
    expect(spansOf(columnsOf({ ...DEFAULT_VIEW, folded: ['a'] }, items, category))).toEqual([
      { category: 'a', from: 0, count: 1, folded: true },
      { category: 'b', from: 1, count: 1, folded: false },
    ]);
  });

  it('have the criteria that are shown after their assessment, under the same head, and none in a folded category', () => {
    const of = (look: object) =>
      columnsOf({ ...DEFAULT_VIEW, ...look }, items, category, (id) => (id === 'a2' ? ['depth', 'colour'] : []));
    const shown = of({}).map((c) =>
      c.kind === 'criterion' ? `${c.of} ${c.criterion}` : c.kind === 'item' ? c.id : '',
    );
    expect(shown).toEqual(['a1', 'a2', 'a2 depth', 'a2 colour', 'b1', 'a3']);
    expect(spansOf(of({}))[0]).toMatchObject({ category: 'a', count: 4, folded: false });
    expect(of({ folded: ['a'] }).map((c) => c.kind)).toEqual(['total', 'item']);
    expect(moved(of({}), items, 'b1', -1)).toEqual(['a1', 'b1', 'a2', 'a3']);
  });

  it('are found again when others come or go, the standing too', () => {
    const [bare, more] = [columnsOf(DEFAULT_VIEW, items, category), columnsOf(DEFAULT_VIEW, items, category, (id) => (id === 'a1' ? ['x', 'y'] : []))]; // prettier-ignore
    expect([0, 1, 3, 4].map((col) => followed(bare, more, col))).toEqual([0, 3, 5, 6]);
    expect([0, 3, 5, 6].map((col) => followed(more, bare, col))).toEqual([0, 1, 3, 4]);
    expect(followed(more, bare, 2)).toBe(2);
  });

  it('stand under a head for each run of a category', () =>
    expect(spansOf(columnsOf(DEFAULT_VIEW, items, category)).map((s) => [s.category, s.from, s.count])).toEqual([
      ['a', 0, 2],
      ['b', 2, 1],
      ['a', 3, 1],
    ]));

  it('move one place, and stop at the ends', () => {
    const columns = columnsOf(DEFAULT_VIEW, items, category);
    expect(moved(columns, items, 'b1', -1)).toEqual(['a1', 'b1', 'a2', 'a3']);
    expect(moved(columns, items, 'a1', -1)).toEqual(items);
    const some = columnsOf({ ...DEFAULT_VIEW, hidden: ['a2'] }, items, category);
    expect(moved(some, items, 'b1', 1)).toEqual(['a1', 'a3', 'b1', 'a2']);
  });

  it('know the top category of a nested one', () => {
    const inner: Group = { id: 'inner', type: 'group', combine: 'points', children: [] };
    const outer: Group = { id: 'outer', type: 'group', combine: 'points', children: [inner] };
    const tree: Group = { id: 'all', type: 'group', combine: 'weights', children: [outer] };
    expect([topCategory(tree, 'inner'), topCategory(tree, 'outer'), topCategory(tree, 'all')]).toEqual([
      'outer',
      'outer',
      '',
    ]);
  });
});
