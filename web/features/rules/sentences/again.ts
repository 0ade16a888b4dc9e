import type { Also, Group } from '@core/book/document';
import { formOf } from '@core/words/count';
import { freshId, groupsDeep, itemsIn, itemsUnder, putGroup, putRules, titleOf, type Draft } from '../draft';
import {
  addAlso,
  alsosIn,
  countAgain,
  groupsAbove,
  itemsOfNode,
  moveAlso,
  nodeChoices,
  nodeTitle,
  putAlso,
  removeAlso,
  withWeightedRoot,
  type PlacedAlso,
} from '../draft-alsos';
import { lineWord } from './line-word';
import type { ActPiece, Part, Piece, Sentence } from './sentence';

const AS = [
  { value: 'is', text: 'as it is' },
  { value: 'from', text: 'as all or nothing, all from' },
  { value: 'reaching', text: 'by the share of its pieces that reach' },
  { value: 'through', text: 'along a line:' },
];
const asOf = (a: Also): string =>
  a.through ? 'through' : a.from !== undefined ? 'from' : a.reaching !== undefined ? 'reaching' : 'is';

const ROLES = [
  { value: 'counts', text: 'counts again in' },
  { value: 'stands', text: 'stands in for the lowest, if it is better, in' },
  { value: 'extra', text: 'is extra credit in' },
  { value: 'kept', text: 'counts again, and is always kept, in' },
];
const roleOf = (a: Also): string =>
  a.standsIn ? 'stands' : a.extraCredit ? 'extra' : a.alwaysKept ? 'kept' : 'counts';

const isGroup = (draft: Draft, id: string): boolean => groupsDeep(draft.rules.tree).some((p) => p.group.id === id);

function sentence(draft: Draft, placed: PlacedAlso, isAlone: boolean): Sentence {
  const { also, parent } = placed;
  const tag = isAlone ? '' : ` (${also.id})`;
  const set = (keys: Partial<Also>): Draft => putAlso(draft, placed, keys);
  const as = asOf(also);
  const plain = { through: undefined, from: undefined, reaching: undefined };
  const own = parent.combine === 'median' || parent.combine === 'decaying';
  const percent = (label: string, value: number, to: (v: number) => Draft): Piece => ({
    kind: 'number',
    label: `${label}${tag}`,
    value,
    unit: ' %',
    most: 1000,
    set: to,
  });
  return {
    id: `again ${also.id}`,
    about: [`/node/${also.id}`],
    touches: [...itemsOfNode(draft, also.of), ...itemsIn(draft, parent.id).map((i) => i.id)],
    pieces: [
      {
        kind: 'choice',
        label: `What counts again${tag}`,
        value: also.of,
        choices: nodeChoices(draft, [draft.rules.tree.id]),
        set: (of) => countAgain(draft, placed, of, as === 'reaching' && !isGroup(draft, of) ? plain : {}),
      },
      {
        kind: 'choice',
        label: `What it does there${tag}`,
        value: roleOf(also),
        choices: ROLES.filter((r) => r.value !== 'stands' || !own),
        set: (role) =>
          set({
            standsIn: role === 'stands' || undefined,
            extraCredit: role === 'extra' || undefined,
            alwaysKept: role === 'kept' || undefined,
          }),
      },
      {
        kind: 'choice',
        label: `Where it counts again${tag}`,
        value: parent.id,
        // In what it counts, and in what that holds, it cannot stand.
        choices: groupsDeep(draft.rules.tree)
          .filter(({ group }) => !groupsAbove(draft, group.id).includes(also.of))
          .map(({ group }) => ({ value: group.id, text: titleOf(draft, group) })),
        set: (to) => moveAlso(draft, placed, to),
      },
      {
        kind: 'choice',
        label: `As what it counts again${tag}`,
        value: as,
        choices: AS.filter((a) => a.value !== 'reaching' || isGroup(draft, also.of)),
        set: (to) =>
          set({
            ...plain,
            ...(to === 'from' ? { from: 60 } : to === 'reaching' ? { reaching: 60 } : {}),
            ...(to === 'through' ? { through: [[0, 0], [80, 100]] as [number, number][] } : {}), // prettier-ignore
          }),
      },
      ...(as === 'from' ? [percent('From how many percent', also.from!, (from) => set({ from }))] : []),
      ...(as === 'reaching' ? [percent('How many percent they reach', also.reaching!, (reaching) => set({ reaching }))] : []), // prettier-ignore
      ...(as === 'through' ? [lineWord(`Line that it counts along${tag}`, also.through!, (through) => set({ through }))] : []), // prettier-ignore
      ...share(placed, tag, set),
      '.',
      { kind: 'act', text: 'take out', label: `Take ${nodeTitle(draft, also.of)}, counted again, out${tag}`, does: () => removeAlso(draft, also.id) }, // prettier-ignore
    ],
  };
}

/** What it weighs where it stands. */
function share({ also, parent }: PlacedAlso, tag: string, set: (keys: Partial<Also>) => Draft): Piece[] {
  if (parent.combine === 'weights')
    return [
      ', with a weight of',
      { kind: 'number', label: `Weight of it there${tag}`, value: also.weight ?? 1, most: 10_000, set: (weight) => set({ weight }) }, // prettier-ignore
    ];
  if (parent.combine !== 'points') return [];
  return [
    ', with',
    {
      kind: 'choice',
      label: `Points of it there${tag}`,
      value: also.points === undefined ? 'its' : 'own',
      choices: [
        { value: 'its', text: 'the points that it has' },
        { value: 'own', text: 'points of its own:' },
      ],
      set: (to) => set({ points: to === 'own' ? 10 : undefined }),
    },
    ...(also.points === undefined
      ? []
      : [{ kind: 'number' as const, label: `Its own points there${tag}`, value: also.points, least: 0.0001, set: (points: number) => set({ points }) }]), // prettier-ignore
  ];
}

/** A group and something outside of it that can be counted again in it, for a sentence to begin with. */
function firstPlace(draft: Draft): { parent: Group; of: string } | null {
  const groups = groupsDeep(draft.rules.tree).filter((p) => p.depth > 0);
  for (const { group: parent } of groups) {
    const inside = new Set([...itemsOfNode(draft, parent.id), ...groupsAbove(draft, parent.id)]);
    const of = nodeChoices(draft).findLast((c) => !inside.has(c.value));
    if (of) return { parent, of: of.value };
  }
  return null;
}

function standIn(draft: Draft): Draft {
  const place = firstPlace(draft);
  if (place === null) return draft;
  // Among points it is worth as much as one of those that it stands in for.
  const points = place.parent.combine === 'points' ? itemsIn(draft, place.parent.id)[0]?.points : undefined;
  const also: Also = { id: freshId(draft, 'stand-in'), type: 'also', of: place.of, standsIn: true };
  return addAlso(draft, place.parent, points ? { ...also, points } : also);
}

/** "The better of two weightings, for each student": the whole as it is, and beside it the same with other weights. */
function betterOf(draft: Draft): Draft {
  const { tree } = draft.rules;
  const own = tree.children.filter((c) => !c.extraCredit && c.type === 'group');
  if (tree.combine !== 'weights' || own.length < 2 || itemsIn(draft, tree.id).length > 0) return draft;
  const id = (base: string, taken: Draft): string => freshId(taken, base);
  const usual: Group = { id: id('usual', draft), type: 'group', combine: 'weights', children: own, info: { title: 'The usual weighting' } }; // prettier-ignore
  const other: Group = {
    id: id('other', draft),
    type: 'group',
    combine: 'weights',
    children: own.map((c): Also => ({ id: id(`${c.id.slice(0, 50)}-again`, draft), type: 'also', of: c.id, weight: c.weight ?? 1 })), // prettier-ignore
    info: { title: 'Another weighting' },
  };
  const course: Group = {
    id: id('course', draft),
    type: 'group',
    combine: 'equal',
    keepBest: 1,
    weight: 100,
    children: [other, usual],
    info: { title: 'The better weighting' },
  };
  const beside = tree.children.filter((c) => !own.includes(c));
  return putRules(draft, { tree: { ...tree, children: [course, ...beside] } });
}

/** "Homework counts at most as much as the examination": the lower of the two, in the place of the first. */
function atMost(draft: Draft): Draft {
  const groups = groupsDeep(draft.rules.tree).filter((p) => p.depth > 0 && !p.group.extraCredit);
  const [first, limit] = [groups[0], groups.find((p) => p.depth > 0 && p.group !== groups[0]?.group)];
  if (!first || !limit || first.parent === null) return draft;
  const { group, parent } = first;
  const { weight, ...bare } = group;
  const part: Group = {
    id: freshId(draft, 'part'),
    type: 'group',
    combine: 'equal',
    ...(weight !== undefined && { weight }),
    drop: { highest: 1 },
    children: [{ id: freshId(draft, 'limit'), type: 'also', of: limit.group.id }, bare],
    info: { title: `${titleOf(draft, group)}, at most as much` },
  };
  return putGroup(draft, parent.id, { children: parent.children.map((c) => (c === group ? part : c)) });
}

/** "So many of the laboratories must be passed": their share, counting nowhere, and a hurdle over it. */
function soMany(draft: Draft): Draft {
  const next = withWeightedRoot(draft);
  const group = groupsDeep(next.rules.tree).find((p) => p.depth > 0 && itemsIn(next, p.group.id).length > 1)?.group;
  if (!group) return draft;
  const id = freshId(next, 'passed');
  const made = addAlso(next, next.rules.tree, { id, type: 'also', of: group.id, reaching: 60, weight: 0 });
  return putRules(made, { hurdles: [...(made.rules.hurdles ?? []), { node: id, atLeast: 80, capAt: 49 }] });
}

/** The last of what there is, in the whole, with weight 0: nothing moves until it is said what it is for. */
function something(draft: Draft): Draft {
  const { tree } = draft.rules;
  const id = freshId(draft, 'again');
  const of = groupsDeep(tree).findLast((p) => p.depth > 0 && itemsUnder(draft, p.group).length > 0)?.group.id;
  if (tree.combine === 'weights' && of !== undefined) return addAlso(draft, tree, { id, type: 'also', of, weight: 0 });
  const place = firstPlace(draft);
  return place ? addAlso(draft, place.parent, { id, type: 'also', of: place.of }) : draft;
}

const act = (draft: Draft, text: string, label: string, does: (d: Draft) => Draft): ActPiece[] =>
  // What there is nothing for is not offered.
  does(draft) === draft ? [] : [{ kind: 'act', text, label, does: () => does(draft) }];

export const AGAIN: Part = {
  id: 'again',
  title: 'Counted again',
  lead: () =>
    'A category or an assessment can count once more in another place: stand in for the lowest, hold another back, say how many were passed. It has no column of its own.',
  sentences: (draft) => {
    const all = alsosIn(draft);
    return [
      {
        id: 'again',
        onlyHere: true,
        pieces: [
          all.length === 0 ? 'Nothing counts again.' : `${all.length} ${formOf(all.length, 'thing counts', 'things count')} again.`, // prettier-ignore
          ...act(draft, 'one stands in for the lowest', 'One stands in for the lowest', standIn),
          ...act(draft, 'the better of two weightings', 'The better of two weightings', betterOf),
          ...act(draft, 'one counts at most as much as another', 'One counts at most as much as another', atMost),
          ...act(draft, 'so many of them must be reached', 'So many of them must be reached', soMany),
          ...act(draft, 'count something again', 'Count something again', something),
        ],
      },
      ...all.map((placed) => sentence(draft, placed, all.length === 1)),
    ];
  },
};
