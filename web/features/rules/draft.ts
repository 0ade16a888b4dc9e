import { canonical } from '@core/book/canonical';
import type { PlacedItem } from '@core/book/assemble';
import type { RulesPart } from '@core/book/change';
import type { Group, LateRule, RuleSets } from '@core/book/document';
import { settingsOf, type CellProposal, type ItemSettings, type Proposal } from '@core/proposal/proposal';
import { groupTitle } from '../../ui/text/group-title';
import { memoize } from './memoize';

/** An assessment as the rules see it. */
export interface DraftItem {
  id: string;
  title: string;
  category: string;
  points: number;
  settings: ItemSettings;
}

/** A change of a cell, and the version of it that it was supposed from: what others did since is not overwritten. */
export type SupposedCell = CellProposal & { version: number };

/** Something supposed of some cells, in words: "Check 1, 21 students: raised by 2 points". */
export interface Supposed {
  says: string;
  cells: SupposedCell[];
}

/** The class as it is, for rules that are worked out from it. */
export interface ClassFigures {
  /** Points marked, by assessment. */
  marked: ReadonlyMap<string, readonly number[]>;
  /** Percentages that letters are looked up by: rounded, and as they are to four decimals. */
  percents: Record<'rounded' | 'exact', readonly number[]>;
}

/** The rules of a book with its assessments, as they are or as they would be. Every change gives another one. */
export interface Draft {
  rules: RulesPart;
  items: DraftItem[];
  /** Scores and states that are supposed beside them; in the book as it is there are none. */
  supposed: Supposed[];
  /** Days that a new rule for lateness leaves out: the school's. */
  days?: Pick<LateRule, 'skipDays' | 'skipDates'>;
  /** Absent where there is no class, as in a school's rules. */
  class?: ClassFigures;
}

/** Named rules of a kind that the page writes. */
export type RuleSet = 'late' | 'blank' | 'marks' | 'scales';

export function draftOf(rules: RulesPart, placed: readonly PlacedItem[], title: (id: string) => string): Draft {
  return {
    rules,
    items: placed.map(({ category, item }) => ({
      id: item.id,
      title: title(item.id),
      category,
      points: item.points,
      settings: settingsOf(item),
    })),
    supposed: [],
  };
}

/** What is other than now, as the trial and the server take it. */
export function proposalOf(now: Draft, draft: Draft): Proposal {
  const was = new Map(now.items.map((i) => [i.id, i.settings]));
  const changed = draft.items.filter((i) => canonical(i.settings) !== canonical(was.get(i.id) ?? {}));
  return {
    rules: draft.rules,
    items: Object.fromEntries(changed.map((i) => [i.id, i.settings])),
    cells: draft.supposed.flatMap((s) => s.cells),
  };
}

export const isSame = (a: Draft, b: Draft): boolean =>
  canonical(a.rules) === canonical(b.rules) &&
  canonical(a.items) === canonical(b.items) &&
  canonical(a.supposed) === canonical(b.supposed);

/** An object with some keys set; what is set to undefined is gone. */
export function put<T extends object>(value: T, keys: Partial<T>): T {
  const out = { ...value, ...keys } as Record<string, unknown>;
  for (const key of Object.keys(out)) if (out[key] === undefined) delete out[key];
  return out as T;
}

export const putRules = (draft: Draft, keys: Partial<RulesPart>): Draft => ({
  ...draft,
  rules: put(draft.rules, keys),
});

const mapGroups = (g: Group, change: (g: Group) => Group): Group =>
  change({ ...g, children: g.children.map((c) => (c.type === 'group' ? mapGroups(c, change) : c)) });

export const putGroup = (draft: Draft, id: string, keys: Partial<Group>): Draft =>
  putRules(draft, { tree: mapGroups(draft.rules.tree, (g) => (g.id === id ? put(g, keys) : g)) });

export const putItems = (draft: Draft, ids: readonly string[], keys: Partial<ItemSettings>): Draft => ({
  ...draft,
  items: draft.items.map((i) => (ids.includes(i.id) ? { ...i, settings: put(i.settings, keys) } : i)),
});

/** A group with how deep it lies and what it lies in; the root first, depth 0. */
export interface Placed {
  group: Group;
  depth: number;
  parent: Group | null;
}

/** Every group of a tree, from above and from left. A tree is never changed in place, so it is gone through once. */
export const groupsDeep = memoize((tree: Group): readonly Placed[] => {
  const walk = (group: Group, depth: number, parent: Group | null): Placed[] => [
    { group, depth, parent },
    ...group.children.flatMap((c) => (c.type === 'group' ? walk(c, depth + 1, group) : [])),
  ];
  return walk(tree, 0, null);
});

export const itemsIn = (draft: Draft, group: string): DraftItem[] => draft.items.filter((i) => i.category === group);

/** Ids of all items under a group, however deep. */
export function itemsUnder(draft: Draft, group: Group): string[] {
  const ids = new Set(groupsDeep(group).map((p) => p.group.id));
  return draft.items.filter((i) => ids.has(i.category)).map((i) => i.id);
}

/** "The whole" for the root, otherwise the category's title. */
export const titleOf = (draft: Draft, group: Group): string =>
  group.id === draft.rules.tree.id ? 'the whole' : groupTitle(group);

export function freshId(draft: Draft, base: string): string {
  const nodes = groupsDeep(draft.rules.tree).flatMap((p) => [p.group.id, ...p.group.children.map((c) => c.id)]);
  const taken = new Set([...nodes, ...draft.items.map((i) => i.id)]);
  for (let n = 1; ; n++) if (!taken.has(`${base}-${n}`)) return `${base}-${n}`;
}

/** A new category in a group, with weight 0 so that nothing moves until it is given one. */
export function addGroup(draft: Draft, parent: Group): Draft {
  const id = freshId(draft, 'category');
  const titles = new Set(groupsDeep(draft.rules.tree).map((p) => titleOf(draft, p.group)));
  let title = 'New category';
  for (let n = 2; titles.has(title); n++) title = `New category ${n}`;
  const group: Group = {
    id,
    type: 'group',
    combine: 'points',
    weight: 0,
    children: [],
    info: { title },
  };
  return putGroup(draft, parent.id, { children: [...parent.children, group] });
}

export const namesOf = (draft: Draft, set: RuleSet): string[] =>
  Object.keys(draft.rules.rules?.[set] ?? {}).filter((name) => name !== 'info');

export function ruleOf<S extends RuleSet>(
  draft: Draft,
  set: S,
  name: string,
): NonNullable<NonNullable<RuleSets[S]>[string]> | undefined {
  return draft.rules.rules?.[set]?.[name] as never;
}

/** Sets a named rule; undefined takes it away. */
export function putRule(draft: Draft, set: RuleSet, name: string, rule: unknown): Draft {
  const all: Record<string, unknown> = { ...draft.rules.rules?.[set], [name]: rule };
  if (rule === undefined) delete all[name];
  return putRules(draft, { rules: { ...draft.rules.rules, [set]: all } });
}

/** A free name: "steady 2" where "steady" is taken. */
export function freshName(draft: Draft, set: RuleSet, base: string): string {
  const names = namesOf(draft, set);
  for (let n = 1; ; n++) {
    const name = n === 1 ? base : `${base} ${n}`;
    if (!names.includes(name)) return name;
  }
}

/** A named rule under another name, wherever it is used. */
export function renameRule(draft: Draft, set: RuleSet, from: string, to: string): Draft {
  const all = Object.entries(draft.rules.rules?.[set] ?? {}).map(([name, rule]) => [name === from ? to : name, rule]);
  const key = set === 'scales' ? 'scale' : set;
  let next = putRules(draft, { rules: { ...draft.rules.rules, [set]: Object.fromEntries(all) } });
  if (key !== 'marks' && next.rules[key] === from) next = putRules(next, { [key]: to });
  if (set === 'late' || set === 'blank')
    next = putRules(next, {
      tree: mapGroups(next.rules.tree, (g) => (g[set] === from ? { ...g, [set]: to } : g)),
    });
  if (set === 'scales') return next;
  return {
    ...next,
    items: next.items.map((i) => (i.settings[set] === from ? { ...i, settings: { ...i.settings, [set]: to } } : i)),
  };
}

/** Item id → the late (null: none) or blank rule that holds for it: its own, the nearest group's, or the book's. */
export function rulesInForce(draft: Draft, set: 'late' | 'blank'): Map<string, string | null> {
  const byGroup = new Map<string, string | null>();
  const walk = (g: Group, above: string | null): void => {
    const here = g[set] === undefined ? above : g[set];
    byGroup.set(g.id, here);
    for (const c of g.children) if (c.type === 'group') walk(c, here);
  };
  walk(draft.rules.tree, draft.rules[set] ?? null);
  return new Map(
    draft.items.map((i) => [
      i.id,
      i.settings[set] !== undefined
        ? i.settings[set]
        : byGroup.has(i.category)
          ? byGroup.get(i.category)!
          : (draft.rules[set] ?? null),
    ]),
  );
}
