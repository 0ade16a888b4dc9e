import type { Also, Group, Hurdle, Node } from '@core/book/document';
import { freshId, groupsDeep, itemsIn, itemsUnder, put, putGroup, putRules, titleOf, type Draft } from './draft';
import { memoize } from './memoize';

/** A node counted again with the group that it stands in. */
export interface PlacedAlso {
  also: Also;
  parent: Group;
}

export const alsosIn = (draft: Draft): PlacedAlso[] =>
  groupsDeep(draft.rules.tree).flatMap(({ group }) =>
    group.children.flatMap((c) => (c.type === 'also' ? [{ also: c, parent: group }] : [])),
  );

const groupBy = (draft: Draft, id: string): Group | undefined =>
  groupsDeep(draft.rules.tree).find((p) => p.group.id === id)?.group;

/** Where it counts otherwise than as it is: the same thing can stand in one group more than once. */
const howOf = ({ from, reaching }: Also): string =>
  from !== undefined ? `, all from ${from} %` : reaching !== undefined ? `, by what reaches ${reaching} %` : '';

/** The title of a category, an assessment, or of what is counted again. */
export function nodeTitle(draft: Draft, id: string): string {
  const group = groupBy(draft, id);
  if (group) return titleOf(draft, group);
  const again = alsosIn(draft).find((a) => a.also.id === id);
  if (again) return `${nodeTitle(draft, again.also.of)}, counted again in ${titleOf(draft, again.parent)}${howOf(again.also)}`; // prettier-ignore
  return draft.items.find((i) => i.id === id)?.title ?? id;
}

/** Categories and assessments with points, as choices. `not`: these are left out. */
export function nodeChoices(draft: Draft, not: readonly string[] = []): { value: string; text: string }[] {
  return [
    ...groupsDeep(draft.rules.tree).map(({ group }) => ({ value: group.id, text: titleOf(draft, group) })),
    ...draft.items.filter((i) => i.points > 0).map((i) => ({ value: i.id, text: i.title })),
  ].filter((c) => !not.includes(c.value));
}

/** The same with what is counted again. */
export const hurdleChoices = (draft: Draft): { value: string; text: string }[] => [
  ...nodeChoices(draft),
  ...alsosIn(draft).map(({ also }) => ({ value: also.id, text: nodeTitle(draft, also.id) })),
];

/** Ids of the assessments that a node is made of. */
export function itemsOfNode(draft: Draft, id: string): string[] {
  const group = groupBy(draft, id);
  if (group) return itemsUnder(draft, group);
  const again = alsosIn(draft).find((a) => a.also.id === id);
  return again ? itemsOfNode(draft, again.also.of) : [id];
}

const parentsIn = memoize(
  (tree: Group): ReadonlyMap<string, string | null> =>
    new Map(groupsDeep(tree).map((p) => [p.group.id, p.parent?.id ?? null])),
);

/** A group and every group above it: none of them can be counted again in it. */
export function groupsAbove(draft: Draft, id: string): string[] {
  const parents = parentsIn(draft.rules.tree);
  const out: string[] = [];
  for (let at: string | null = id; at !== null; at = parents.get(at) ?? null) out.push(at);
  return out;
}

export const putAlso = (draft: Draft, { also, parent }: PlacedAlso, keys: Partial<Also>): Draft =>
  putGroup(draft, parent.id, { children: parent.children.map((c) => (c === also ? put(also, keys) : c)) });

/** What is counted again stands before what it competes with: of equals the earlier is dropped. */
export const addAlso = (draft: Draft, parent: Group, also: Also): Draft =>
  putGroup(draft, parent.id, { children: [also, ...parent.children] });

/** Counts something else; where that holds the place in which it counts, the place is beside that. */
export const countAgain = (draft: Draft, placed: PlacedAlso, of: string, keys: Partial<Also>): Draft => {
  const also = put({ ...placed.also, of }, keys);
  const beside = groupsAbove(draft, placed.parent.id);
  const at = beside.indexOf(of);
  if (at < 0) return putAlso(draft, placed, { of, ...keys });
  return moveAlso(draft, { ...placed, also }, beside[at + 1]!);
};

export const moveAlso = (draft: Draft, from: PlacedAlso, to: string): Draft => {
  const without = withoutNode(draft, from.also.id);
  const group = groupBy(without, to)!;
  return addAlso(without, group, from.also);
};

const withoutNode = (draft: Draft, id: string): Draft => {
  const without = (g: Group): Group => ({
    ...g,
    children: g.children.filter((c) => c.id !== id).map((c): Node => (c.type === 'group' ? without(c) : c)),
  });
  return putRules(draft, { tree: without(draft.rules.tree) });
};

/** Takes it out, with the hurdles over it and what variants say of it. */
export function removeAlso(draft: Draft, id: string): Draft {
  return withoutMentions(withoutNode(draft, id), id);
}

/** Hurdles over a node, and what variants say of it, gone. */
export function withoutMentions(draft: Draft, id: string): Draft {
  const { hurdles, variants } = draft.rules;
  const named = (h: Hurdle): boolean => h.node === id || (typeof h.capAt === 'object' && h.capAt.node === id);
  const kept = hurdles?.filter((h) => !named(h));
  return putRules(draft, {
    ...(hurdles && { hurdles: kept!.length === 0 ? undefined : kept }),
    ...(variants && {
      variants: Object.fromEntries(
        Object.entries(variants).map(([name, v]) => [
          name,
          put(v, {
            ...(v.weights && {
              weights: Object.fromEntries(Object.entries(v.weights).filter(([node]) => node !== id)),
            }),
            ...(v.leftOut && { leftOut: v.leftOut.filter((node) => node !== id) }),
          }),
        ]),
      ),
    }),
  });
}

/** Where something with a weight can stand: the whole where it counts by weights, else a new whole around it. */
export function withWeightedRoot(draft: Draft): Draft {
  const { tree } = draft.rules;
  if (tree.combine === 'weights') return draft;
  const id = freshId(draft, 'whole');
  const inner: Group = { ...tree, weight: 100, info: { ...(tree.info as object | undefined), title: 'What counts' } };
  return putRules(draft, { tree: { id, type: 'group', combine: 'weights', children: [inner] } });
}

/** Puts a category with all that is in it into another one; it must not be inside itself. */
export const moveGroup = (draft: Draft, group: Group, to: string): Draft => {
  const without = withoutNode(draft, group.id);
  return putGroup(without, to, { children: [...groupBy(without, to)!.children, group] });
};

/** Something hangs in the group: assessments, categories or what is counted again. */
export const isFilled = (draft: Draft, group: Group): boolean =>
  itemsIn(draft, group.id).length > 0 || group.children.length > 0;

/** Takes a category without work out, with what counts it again or counts again in it, and the hurdles over any of them. */
export function removeGroup(draft: Draft, id: string): Draft {
  const alsos = alsosIn(draft).filter(({ also, parent }) => also.of === id || parent.id === id);
  const gone = [id, ...alsos.map(({ also }) => also.id)];
  return gone.reduce((next, node) => withoutMentions(withoutNode(next, node), node), draft);
}
