import type { Hurdle } from '@core/book/document';
import { groupsDeep, itemsUnder, putRules, titleOf, type Draft } from '../draft';
import type { Part, Sentence } from './sentence';

function nodes(draft: Draft): { value: string; text: string }[] {
  return [
    ...groupsDeep(draft.rules.tree).map(({ group }) => ({ value: group.id, text: titleOf(draft, group) })),
    ...draft.items.filter((i) => i.points > 0).map((i) => ({ value: i.id, text: i.title })),
  ];
}

function touched(draft: Draft, node: string): string[] {
  const group = groupsDeep(draft.rules.tree).find((p) => p.group.id === node)?.group;
  return group ? itemsUnder(draft, group) : [node];
}

export const HURDLES: Part = {
  id: 'hurdles',
  title: 'Hurdles',
  lead: () =>
    'What has to be reached, whatever the rest comes to. A hurdle waits while something of it is open: a half-marked survey fails nobody.',
  sentences: (draft) => {
    const hurdles = draft.rules.hurdles ?? [];
    const set = (next: Hurdle[]): Draft => putRules(draft, { hurdles: next.length === 0 ? undefined : next });
    return [
      {
        id: 'hurdles',
        onlyHere: true,
        pieces: [
          hurdles.length === 0
            ? 'There is no hurdle.'
            : hurdles.length === 1
              ? 'There is one hurdle.'
              : `There are ${hurdles.length} hurdles.`,
          {
            kind: 'act',
            text: 'a hurdle more',
            label: 'A hurdle more',
            does: () =>
              set([...hurdles, { node: nodes(draft)[1]?.value ?? draft.rules.tree.id, atLeast: 40, capAt: 39 }]),
          },
        ],
      },
      ...hurdles.map((h, n): Sentence => {
        const at = (keys: Partial<Hurdle>): Draft => set(hurdles.map((x, j) => (j === n ? { ...x, ...keys } : x)));
        return {
          id: `hurdle ${n}`,
          about: [`/hurdles/${n}`],
          touches: touched(draft, h.node),
          pieces: [
            'Less than',
            {
              kind: 'number',
              label: `Least of hurdle ${n + 1}`,
              value: h.atLeast,
              unit: ' %',
              most: 1000,
              set: (atLeast) => at({ atLeast }),
            },
            'in',
            {
              kind: 'choice',
              label: `What hurdle ${n + 1} is in`,
              value: h.node,
              choices: nodes(draft),
              set: (node) => at({ node }),
            },
            'and the final percentage is at most',
            {
              kind: 'number',
              label: `Most below hurdle ${n + 1}`,
              value: h.capAt,
              unit: ' %',
              most: 1000,
              set: (capAt) => at({ capAt }),
            },
            '.',
            {
              kind: 'act',
              text: 'take out',
              label: `Take hurdle ${n + 1} out`,
              does: () => set(hurdles.filter((_, j) => j !== n)),
            },
          ],
        };
      }),
    ];
  },
};
