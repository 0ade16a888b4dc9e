import { groupsDeep, itemsIn, itemsUnder, putGroup, putItems, titleOf, type Draft } from '../draft';
import type { Group } from '@core/book/document';
import type { Part, Piece, Sentence } from './sentence';
import { childrenWith } from './drops';

/** "an upper bound of 100 %" or "no upper bound". */
function bound(draft: Draft, group: Group, key: 'cap' | 'floor'): Piece[] {
  const title = titleOf(draft, group);
  const value = group[key] ?? null;
  const word = key === 'cap' ? 'upper bound' : 'lower bound';
  return [
    {
      kind: 'choice',
      label: `Whether ${title} has one: ${word}`,
      value: value === null ? 'no' : 'yes',
      choices: [
        { value: 'no', text: `no ${word}` },
        { value: 'yes', text: key === 'cap' ? 'an upper bound of' : 'a lower bound of' },
      ],
      set: (to) => putGroup(draft, group.id, { [key]: to === 'no' ? undefined : key === 'cap' ? 100 : 0 }),
    },
    ...(value === null
      ? []
      : [
          {
            kind: 'number' as const,
            label: `${word} of ${title}`,
            value,
            unit: ' %',
            most: 100_000,
            set: (to: number) => putGroup(draft, group.id, { [key]: to }),
          },
        ]),
  ];
}

function counting(draft: Draft, group: Group): Piece[] {
  const items = itemsIn(draft, group.id);
  if (items.length === 0) return [];
  return [
    '; only shown, counting nowhere:',
    {
      kind: 'many',
      label: `Only shown in ${titleOf(draft, group)}`,
      none: 'none of it',
      choices: items.map((i) => ({ value: i.id, text: i.title })),
      value: items.filter((i) => i.settings.counts === false).map((i) => i.id),
      set: (chosen) =>
        items.reduce((d, i) => putItems(d, [i.id], { counts: chosen.includes(i.id) ? false : undefined }), draft),
    },
  ];
}

/** "; together it adds at most 5 %" */
function atMost(draft: Draft, group: Group): Piece[] {
  const title = titleOf(draft, group);
  const most = group.extraAtMost;
  return [
    '; together it adds',
    {
      kind: 'choice',
      label: `What extra credit adds in ${title}`,
      value: most === undefined ? 'all' : 'most',
      choices: [
        { value: 'all', text: 'all that it comes to' },
        { value: 'most', text: 'at most' },
      ],
      set: (to) => putGroup(draft, group.id, { extraAtMost: to === 'most' ? 5 : undefined }),
    },
    ...(most === undefined
      ? []
      : [{ kind: 'number' as const, label: `Most that extra credit adds in ${title}`, value: most, unit: ' %', most: 1000, set: (extraAtMost: number) => putGroup(draft, group.id, { extraAtMost }) }]), // prettier-ignore
  ];
}

/** Something in the group is extra credit, or only shown. */
const anything = (draft: Draft, group: Group): boolean =>
  group.extraCredit === true ||
  group.children.some((c) => c.extraCredit) ||
  itemsIn(draft, group.id).some((i) => i.settings.extraCredit || i.settings.counts === false);

export const EXTRA: Part = {
  id: 'extra',
  title: 'Extra credit',
  lead: () =>
    'Extra credit adds to what the others come to and never takes away. Among weights it adds its part of the weights that count in the end; among points it adds its points.',
  sentences: (draft) =>
    groupsDeep(draft.rules.tree).flatMap(({ group, depth }): Sentence[] => {
      const title = titleOf(draft, group);
      const touches = itemsUnder(draft, group);
      return [
        {
          id: `extra in ${group.id}`,
          onlyHere: !anything(draft, group) && group.extraAtMost === undefined,
          depth,
          about: [`/node/${group.id}/extra`],
          touches,
          pieces: [
            depth === 0 ? 'Of the whole, extra credit is' : `Of ${title}, extra credit is`,
            childrenWith(draft, group, `Extra credit in ${title}`, 'none of it', 'extraCredit'),
            ...counting(draft, group),
            ...(anything(draft, group) || group.extraAtMost !== undefined ? atMost(draft, group) : []),
            '.',
          ],
        },
        {
          id: `bounds of ${group.id}`,
          onlyHere: (group.cap ?? null) === null && (group.floor ?? null) === null,
          depth,
          touches,
          pieces: [
            depth === 0 ? 'The whole has' : `${title} has`,
            ...bound(draft, group, 'cap'),
            'and',
            ...bound(draft, group, 'floor'),
            '.',
          ],
        },
      ];
    }),
};
