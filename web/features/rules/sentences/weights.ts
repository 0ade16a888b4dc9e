import type { Combine, Group } from '@core/book/document';
import { addGroup, groupsDeep, itemsIn, itemsUnder, putGroup, putItems, titleOf, type Draft } from '../draft';
import { groupsAbove, moveGroup, removeGroup } from '../draft-alsos';
import { shareOf, sharesIn } from './shares';
import type { Part, Piece, Sentence } from './sentence';

const COMBINE: { value: Combine; text: string }[] = [
  { value: 'weights', text: 'by weights of their own' },
  { value: 'points', text: 'by their points' },
  { value: 'equal', text: 'each alike' },
  { value: 'median', text: 'by the one in the middle' },
  { value: 'decaying', text: 'the newer the more:' },
];

/** Of a way that makes one figure of all there is, nothing is dropped. */
const combined = (group: Group, combine: Combine): Partial<Group> => ({
  combine,
  newest: combine === 'decaying' ? (group.newest ?? 70) : undefined,
  ...(combine === 'median' || combine === 'decaying' ? { drop: undefined, keepBest: undefined } : {}),
});

const combine = (draft: Draft, group: Group, title: string): Piece[] => [
  {
    kind: 'choice',
    label: `How what is in ${title} counts`,
    value: group.combine,
    choices: COMBINE,
    set: (value) => putGroup(draft, group.id, combined(group, value as Combine)),
  },
  ...(group.combine === 'decaying'
    ? [
        { kind: 'number' as const, label: `What the newest makes of ${title}`, value: group.newest ?? 70, unit: ' %', least: 0.0001, most: 100, set: (newest: number) => putGroup(draft, group.id, { newest }) }, // prettier-ignore
        'each new one, the rest what went before',
      ]
    : []),
];

/**
 * What it is a part of; another place can be chosen, but not inside itself. Where each category stands in the whole with
 * its work in it, nothing is said of it.
 */
function place(draft: Draft, group: Group, parent: Group): Piece[] {
  const all = groupsDeep(draft.rules.tree);
  const isPlain = all.every((p) => p.depth === 0 || (p.depth === 1 && itemsIn(draft, p.group.id).length > 0));
  if (isPlain) return [];
  const nameOf = (g: Group): string => (g === draft.rules.tree ? 'the whole' : titleOf(draft, g));
  return [
    {
      kind: 'choice',
      label: `What ${titleOf(draft, group)} is a part of`,
      value: parent.id,
      unsaid: draft.rules.tree.id,
      choices: all
        .filter((p) => !groupsAbove(draft, p.group.id).includes(group.id))
        .map((p) => ({ value: p.group.id, text: nameOf(p.group) })),
      set: (to) => moveGroup(draft, group, to),
    },
  ];
}

/** "counts 30, 30 %", "counts 30, 30 % of Term one", "counts by its points", "counts like each of the others". */
function share(draft: Draft, group: Group, parent: Group): Piece[] {
  const title = titleOf(draft, group);
  const within = place(draft, group, parent);
  const word = (text: string): string => (within.length === 0 ? '' : text);
  const percent = shareOf(sharesIn(draft, parent), group.id);
  if (parent.combine !== 'weights')
    return [
      `counts ${parent.combine === 'points' ? 'by its points' : 'like each of the others'}${word(' in')}`,
      ...within,
      ...(!group.extraCredit && parent.combine === 'equal' ? [`, ${percent}`] : []),
    ];
  return [
    'counts',
    {
      kind: 'number',
      label: `Weight of ${title}`,
      value: group.weight ?? 1,
      most: 10_000,
      set: (value) => putGroup(draft, group.id, { weight: value }),
    },
    group.extraCredit ? `, as extra credit${word(', in')}` : `, ${percent}${word(' of')}`,
    ...within,
  ];
}

function groupSentence(draft: Draft, group: Group, parent: Group, depth: number): Sentence {
  const title = titleOf(draft, group);
  const empty = itemsUnder(draft, group).length === 0 && !group.children.some((c) => c.type === 'group');
  return {
    id: `group ${group.id}`,
    depth: depth - 1,
    about: [`/node/${group.id}`],
    touches: itemsUnder(draft, group),
    pieces: [
      {
        kind: 'word',
        label: `Title of ${title}`,
        value: title,
        set: (text) =>
          text.length > 100 || text === ''
            ? { message: 'A category has a title of 1 to 100 letters.' }
            : putGroup(draft, group.id, { info: { ...(group.info as object | undefined), title: text } }),
      },
      ...share(draft, group, parent),
      '; its work counts',
      ...combine(draft, group, title),
      '.',
      {
        kind: 'act',
        text: 'split',
        label: `A new category in ${title}`,
        does: () => addGroup(draft, group),
      },
      ...(empty
        ? [
            {
              kind: 'act' as const,
              text: 'take out',
              label: `Take ${title} out`,
              does: () => removeGroup(draft, group.id),
            },
          ]
        : []),
    ],
  };
}

/** Where assessments count by weights of their own, one line for each. */
function itemSentences(draft: Draft, group: Group, depth: number): Sentence[] {
  if (group.combine !== 'weights') return [];
  const shares = sharesIn(draft, group);
  return itemsIn(draft, group.id).map((i) => ({
    id: `item ${i.id}`,
    depth,
    about: [`/node/${i.id}`],
    touches: [i.id],
    pieces: [
      i.title,
      'counts',
      {
        kind: 'number',
        label: `Weight of ${i.title}`,
        value: i.settings.weight ?? 1,
        most: 10_000,
        set: (value) => putItems(draft, [i.id], { weight: value }),
      },
      i.settings.extraCredit
        ? ', as extra credit.'
        : i.settings.counts === false
          ? ', but is only shown.'
          : `, ${shareOf(shares, i.id)} of ${titleOf(draft, group)}.`,
    ],
  }));
}

export const WEIGHTS: Part = {
  id: 'weights',
  title: 'Weights',
  lead: (draft) => {
    const { tree } = draft.rules;
    if (tree.combine !== 'weights') return 'How much each category counts in the whole.';
    const { sum } = sharesIn(draft, tree);
    if (sum === 0) return 'All weights are 0, so nothing counts and nobody has a standing.';
    return sum === 100
      ? 'How much each category counts in the whole. Together 100.'
      : `How much each category counts in the whole. Together ${sum}, not 100: each counts as its part of ${sum}.`;
  },
  sentences: (draft) => {
    const { tree } = draft.rules;
    return [
      {
        id: 'root',
        about: ['/node/' + tree.id],
        touches: draft.items.map((i) => i.id),
        pieces: [
          'The categories of the whole count',
          ...combine(draft, tree, 'the whole'),
          '.',
          {
            kind: 'act',
            text: 'a new category',
            label: 'A new category in the whole',
            does: () => addGroup(draft, tree),
          },
        ],
      },
      ...groupsDeep(tree).flatMap(({ group, depth, parent }) => [
        ...(parent ? [groupSentence(draft, group, parent, depth)] : []),
        ...itemSentences(draft, group, depth),
      ]),
      {
        id: 'lent',
        quiet: true,
        pieces: ['A category in which nothing counts yet lends its weight to the others until something does.'],
      },
    ];
  },
};
