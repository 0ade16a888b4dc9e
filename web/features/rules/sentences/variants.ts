import type { Variant } from '@core/book/document';
import { groupsDeep, itemsIn, namesOf, put, putRules, titleOf, type Draft } from '../draft';
import { alsosIn, itemsOfNode, nodeTitle } from '../draft-alsos';
import { nameWord } from './name-word';
import type { Part, Sentence } from './sentence';

const OWN = '*own';
const NONE = '*none';

export const variantsOf = (draft: Draft): [string, Variant][] =>
  Object.entries(draft.rules.variants ?? {}).filter(([name]) => name !== 'info');

function putVariants(draft: Draft, variants: [string, Variant][]): Draft {
  return putRules(draft, { variants: variants.length === 0 ? undefined : Object.fromEntries(variants) });
}

/** Everything that has a weight of its own, or can be left out, the whole aside. */
function nodesIn(draft: Draft): { value: string; text: string }[] {
  return [
    ...groupsDeep(draft.rules.tree).filter((p) => p.depth > 0).map(({ group }) => ({ value: group.id, text: titleOf(draft, group) })), // prettier-ignore
    ...draft.items.map((i) => ({ value: i.id, text: i.title })),
    ...alsosIn(draft).map(({ also }) => ({ value: also.id, text: nodeTitle(draft, also.id) })),
  ];
}

/** What of a variant can weigh something else: the children of groups that count by weights. */
function weighed(draft: Draft): { value: string; text: string; weight: number }[] {
  return groupsDeep(draft.rules.tree)
    .filter((p) => p.group.combine === 'weights')
    .flatMap(({ group }) => [
      ...group.children.map((c) => ({ value: c.id, text: nodeTitle(draft, c.id), weight: c.weight ?? 1 })),
      ...itemsIn(draft, group.id).map((i) => ({ value: i.id, text: i.title, weight: i.settings.weight ?? 1 })),
    ]);
}

function sentences(draft: Draft, name: string, variant: Variant): Sentence[] {
  const all = variantsOf(draft);
  const set = (keys: Partial<Variant>): Draft =>
    putVariants(draft, all.map(([n, v]) => [n, n === name ? put(v, keys) : v])); // prettier-ignore
  const about = [`/variants/${name}`];
  const { weights = {}, leftOut = [] } = variant;
  const others = weighed(draft).filter((w) => !(w.value in weights));
  const setWeights = (next: Record<string, number>): Draft =>
    set({ weights: Object.keys(next).length === 0 ? undefined : next });
  return [
    {
      id: `variant ${name}`,
      about,
      heading: name,
      touches: draft.items.map((i) => i.id),
      pieces: [
        'Some students have',
        nameWord(
          'variant',
          name,
          all.map(([n]) => n),
          (text) => putVariants(draft, all.map(([n, v]) => [n === name ? text : n, v])), // prettier-ignore
        ),
        '. Left out for them:',
        {
          kind: 'many',
          label: `Left out in ${name}`,
          none: 'nothing',
          choices: nodesIn(draft),
          value: leftOut,
          set: (chosen) => set({ leftOut: chosen.length === 0 ? undefined : chosen }),
        },
        '; their letters:',
        {
          kind: 'choice',
          label: `Letters in ${name}`,
          value: variant.scale === undefined ? OWN : (variant.scale ?? NONE),
          choices: [
            { value: OWN, text: 'as for everybody' },
            { value: NONE, text: 'percentages alone' },
            ...namesOf(draft, 'scales').map((n) => ({ value: n, text: `by “${n}”` })),
          ],
          set: (to) => set({ scale: to === OWN ? undefined : to === NONE ? null : to }),
        },
        '.',
        ...(others.length > 0
          ? [
              {
                kind: 'act' as const,
                text: 'another weight',
                label: `Another weight in ${name}`,
                does: () => setWeights({ ...weights, [others[0]!.value]: others[0]!.weight }),
              },
            ]
          : []),
        {
          kind: 'act',
          text: 'take out',
          label: `Take the variant ${name} out`,
          does: () => putVariants(draft, all.filter(([n]) => n !== name)), // prettier-ignore
        },
      ],
    },
    ...Object.entries(weights)
      .filter(([node]) => node !== 'info')
      .map(([node, weight]): Sentence => ({
        id: `variant ${name} weight ${node}`,
        about,
        depth: 1,
        touches: itemsOfNode(draft, node),
        pieces: [
          'For them',
          {
            kind: 'choice',
            label: `What weighs another in ${name}`,
            value: node,
            choices: [{ value: node, text: nodeTitle(draft, node) }, ...others],
            set: (to) =>
              setWeights(Object.fromEntries(Object.entries(weights).map(([n, w]) => [n === node ? to : n, w]))),
          },
          'counts',
          { kind: 'number', label: `Weight of ${nodeTitle(draft, node)} in ${name}`, value: weight, most: 10_000, set: (to) => setWeights({ ...weights, [node]: to }) }, // prettier-ignore
          '.',
          {
            kind: 'act',
            text: 'as for everybody',
            label: `Weight of ${nodeTitle(draft, node)} in ${name} as for everybody`,
            does: () => setWeights(Object.fromEntries(Object.entries(weights).filter(([n]) => n !== node))),
          },
        ],
      })),
  ];
}

export const VARIANTS: Part = {
  id: 'variants',
  title: 'Variants',
  lead: () =>
    'Other weights, left-out parts or other letters for some students: graduates in the same course, an evening section, one student. Who has which is said on People.',
  sentences: (draft) => {
    const all = variantsOf(draft);
    return [
      {
        id: 'variants',
        onlyHere: true,
        pieces: [
          all.length === 0 ? 'The rules are the same for everybody.' : all.length === 1 ? 'There is one variant.' : `There are ${all.length} variants.`, // prettier-ignore
          {
            kind: 'act',
            text: 'a variant more',
            label: 'A variant more',
            does: () => {
              let name = 'graduates';
              for (let n = 2; all.some(([a]) => a === name); n++) name = `variant ${n}`;
              return putVariants(draft, [...all, [name, {}]]);
            },
          },
        ],
      },
      ...all.flatMap(([name, variant]) => sentences(draft, name, variant)),
    ];
  },
};
