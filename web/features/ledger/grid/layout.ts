import type { Group } from '@core/book/document';
import type { ViewSettings } from '../view/view-settings';

/** A column of the ledger: an assessment by its number in the book, one of its criteria, or the total of a folded category. */
export type Column =
  | { kind: 'item'; item: number; id: string; category: string }
  | { kind: 'criterion'; of: string; criterion: string; category: string }
  | { kind: 'total'; category: string };

/** What tells a column from every other of a ledger. */
const keyOf = (c: Column): string =>
  c.kind === 'item' ? c.id : c.kind === 'criterion' ? `${c.of} ${c.criterion}` : `total ${c.category}`;

/** Where a column is once others came or went; after the last of them stands the standing. One that went: as near as may be. */
export function followed(before: readonly Column[], now: readonly Column[], col: number): number {
  const column = before[col];
  if (!column) return now.length;
  const at = now.findIndex((c) => keyOf(c) === keyOf(column));
  return at < 0 ? Math.min(col, now.length) : at;
}

/** A category's head over the columns that stand together. */
export interface Span {
  category: string;
  from: number;
  count: number;
  folded: boolean;
}

const holds = (group: Group, id: string): boolean =>
  group.children.some((c) => c.type === 'group' && (c.id === id || holds(c, id)));

/** The category at the top of the tree in which a group stands; '' for the tree itself. */
export function topCategory(tree: Group, id: string): string {
  const top = tree.children.find((g): g is Group => g.type === 'group' && (g.id === id || holds(g, id)));
  return top?.id ?? '';
}

/**
 * The columns that a look shows, in its order. `categoryOf` gives each assessment's top category, `criteriaOf` the criteria
 * of those that a look shows them of.
 */
export function columnsOf(
  look: ViewSettings,
  items: readonly string[],
  categoryOf: (item: string) => string,
  criteriaOf: (item: string) => readonly string[] = () => [],
): Column[] {
  const place = new Map(look.order.map((id, i) => [id, i]));
  const rank = (id: string, i: number): number => place.get(id) ?? look.order.length + i;
  const shown = items
    .map((id, item) => ({ id, item, category: categoryOf(id) }))
    .filter((c) => !look.hidden.includes(c.id))
    .sort((a, b) => rank(a.id, a.item) - rank(b.id, b.item));
  const folded = new Set(look.folded);
  const done = new Set<string>();
  return shown.flatMap(({ id, item, category }): Column[] => {
    if (!folded.has(category))
      return [
        { kind: 'item', item, id, category },
        ...criteriaOf(id).map((criterion): Column => ({ kind: 'criterion', of: id, criterion, category })),
      ];
    if (done.has(category)) return [];
    done.add(category);
    return [{ kind: 'total', category }];
  });
}

/** The heads over columns. */
export function spansOf(columns: readonly Column[]): Span[] {
  const spans: Span[] = [];
  columns.forEach((c, col) => {
    const last = spans[spans.length - 1];
    if (last?.category === c.category) last.count++;
    else spans.push({ category: c.category, from: col, count: 1, folded: c.kind === 'total' });
  });
  return spans;
}

/** An assessment one place to the left or right among those shown, as the order of viewing. */
export function moved(columns: readonly Column[], items: readonly string[], id: string, by: -1 | 1): string[] {
  const shown = columns.flatMap((c) => (c.kind === 'item' ? [c.id] : []));
  const at = shown.indexOf(id);
  const to = at + by;
  if (at < 0 || to < 0 || to >= shown.length) return [...shown, ...items.filter((i) => !shown.includes(i))];
  [shown[at], shown[to]] = [shown[to]!, shown[at]!];
  return [...shown, ...items.filter((i) => !shown.includes(i))];
}
