import { RULE_KEYS, type RulesPart } from './change';
import type { BookDocument, Entry, Group, Item, Node, Override, Student } from './document';

/** A book without its people and their entries: rules and tree. */
export type Skeleton = Omit<BookDocument, 'students' | 'entries' | 'asOf' | 'overrides'>;

/** An item and the category (group id) that it stands in. */
export interface PlacedItem {
  category: string;
  item: Item;
}

/**
 * Puts items under their categories. The rules' tree holds groups and what is counted again; items come after these in
 * their category, in the order given. An item whose category is not in the tree goes to the root, so that no work is ever lost.
 */
export function assembleSkeleton(timeZone: string, rules: RulesPart, items: readonly PlacedItem[]): Skeleton {
  const byCategory = new Map<string, Item[]>();
  const known = new Set<string>();
  const note = (g: Group): void => {
    known.add(g.id);
    for (const child of g.children) if (child.type === 'group') note(child);
  };
  note(rules.tree);
  for (const { category, item } of items) {
    const place = known.has(category) ? category : rules.tree.id;
    byCategory.set(place, [...(byCategory.get(place) ?? []), item]);
  }
  const fill = (g: Group): Group => ({
    ...g,
    children: [
      ...g.children.flatMap((c): Node[] => (c.type === 'item' ? [] : [c.type === 'group' ? fill(c) : c])),
      ...(byCategory.get(g.id) ?? []),
    ],
  });
  const { tree, ...rest } = rules;
  return { format: 'last-tally.book/1', timeZone, ...rest, tree: fill(tree) };
}

/** The rules of a skeleton or book: its tree without the items. */
export function rulesOf(book: Skeleton | BookDocument): RulesPart {
  const bare = (g: Group): Group => ({
    ...g,
    children: g.children.flatMap((c): Node[] => (c.type === 'item' ? [] : [c.type === 'group' ? bare(c) : c])),
  });
  const own = RULE_KEYS.filter((key) => book[key] !== undefined).map((key) => [key, book[key]]);
  return { ...(Object.fromEntries(own) as unknown as RulesPart), tree: bare(book.tree) };
}

/** The whole document from its parts. */
export function assembleBook(
  skeleton: Skeleton,
  asOf: string,
  students: Student[],
  entries: Entry[],
  overrides: Override[] = [],
): BookDocument {
  // Somebody whose variant the rules do not have, or have no more, is as everybody is.
  const known = students.map((s): Student => {
    if (s.variant === undefined || Object.hasOwn(skeleton.variants ?? {}, s.variant)) return s;
    const { variant: _v, ...rest } = s;
    return rest;
  });
  return { ...skeleton, asOf, students: known, entries, ...(overrides.length > 0 ? { overrides } : {}) };
}
