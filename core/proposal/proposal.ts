import { assembleBook, assembleSkeleton, type PlacedItem, type Skeleton } from '../book/assemble';
import { changeCell, contentOf, isEmpty, type CellChange, type RulesPart } from '../book/change';
import { groupsOf, type BookDocument, type Entry, type Item } from '../book/document';

/** What the rules page sets on one item: all of the contract's item (section 2) but what it is and when it is due. */
export type ItemSettings = Omit<Item, 'id' | 'type' | 'points' | 'due' | 'closes'>;

/** A change of one student's entry on one item. */
export interface CellProposal {
  student: string;
  item: string;
  change: CellChange;
}

/** What is tried together: the rules as they would be, items whose settings would be others, entries that would be. */
export interface Proposal {
  rules: RulesPart;
  /** By the item's id, the settings whole. */
  items: Record<string, ItemSettings>;
  cells?: CellProposal[];
}

/** What is said of one item; undefined where nothing is. Any id may be one, also `constructor`. */
export const settingsFor = (items: Record<string, ItemSettings>, id: string): ItemSettings | undefined =>
  Object.hasOwn(items, id) ? items[id] : undefined;

export function settingsOf(item: Item): ItemSettings {
  const { id: _i, type: _t, points: _p, due: _d, closes: _c, ...settings } = item;
  return settings;
}

/** The items of a book in their categories, in book order. */
export const placedItems = (book: Pick<BookDocument, 'tree'>): PlacedItem[] =>
  groupsOf(book.tree).flatMap((g) =>
    g.children.flatMap((c) => (c.type === 'item' ? [{ category: g.id, item: c }] : [])),
  );

function withSettings(item: Item, settings: ItemSettings | undefined): Item {
  if (!settings) return item;
  const { id, type, points, due, closes } = item;
  return {
    id,
    type,
    points,
    ...settings,
    ...(due === undefined ? {} : { due }),
    ...(closes === undefined ? {} : { closes }),
  };
}

/** Entries with changes made one after the other; the given ones are not touched. */
export function withCells(entries: readonly Entry[], cells: readonly CellProposal[]): Entry[] {
  if (cells.length === 0) return [...entries];
  const key = (student: string, item: string): string => `${student} ${item}`;
  const at = new Map(entries.map((e, i) => [key(e.student, e.item), i]));
  const out: (Entry | null)[] = [...entries];
  for (const { student, item, change } of cells) {
    const i = at.get(key(student, item)) ?? out.length;
    at.set(key(student, item), i);
    const is = changeCell(contentOf(out[i] ?? undefined), change);
    out[i] = isEmpty(is) ? null : { student, item, ...is };
  }
  return out.filter((e) => e !== null);
}

/** Rules and tree with a wish made: the book without its people and entries. */
export function proposedSkeleton(book: BookDocument, wish: Proposal): Skeleton {
  const items = placedItems(book).map((p) => ({
    ...p,
    item: withSettings(p.item, settingsFor(wish.items, p.item.id)),
  }));
  return assembleSkeleton(book.timeZone, wish.rules, items);
}

/** The book with a wish made, unchecked. Pure: the given book is not touched. Unknown items of the wish change nothing. */
export function proposedBook(book: BookDocument, wish: Proposal): BookDocument {
  const entries = withCells(book.entries, wish.cells ?? []);
  return assembleBook(proposedSkeleton(book, wish), book.asOf, book.students, entries, book.overrides);
}
