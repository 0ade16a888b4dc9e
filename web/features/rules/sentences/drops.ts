import { groupsDeep, itemsIn, itemsUnder, putGroup, putItems, titleOf, type Draft } from '../draft';
import type { Group } from '@core/book/document';
import { groupTitle } from '../../../ui/text/group-title';
import type { ManyPiece, Part, Piece, Sentence } from './sentence';

const KINDS = [
  { value: 'none', text: 'drops nothing' },
  { value: 'drop', text: 'drops the lowest' },
  { value: 'best', text: 'keeps the best' },
];

/** One figure is made of all there is in a median, and where the newest counts most: nothing is dropped. */
const drops = ({ group }: { group: Group }): boolean => group.combine !== 'median' && group.combine !== 'decaying';

const kindOf = (g: Group): string =>
  g.keepBest !== undefined ? 'best' : (g.drop?.lowest ?? 0) + (g.drop?.highest ?? 0) > 0 ? 'drop' : 'none';

/** Children of a group of which some have a property: categories and assessments in one list. */
export function childrenWith(
  draft: Draft,
  group: Group,
  label: string,
  none: string,
  key: 'alwaysKept' | 'extraCredit',
): ManyPiece {
  const groups = group.children.filter((c): c is Group => c.type === 'group');
  const items = itemsIn(draft, group.id);
  return {
    kind: 'many',
    label,
    none,
    choices: [
      ...groups.map((c) => ({ value: c.id, text: groupTitle(c) })),
      ...items.map((i) => ({ value: i.id, text: i.title })),
    ],
    value: [
      ...groups.filter((c) => c[key] === true).map((c) => c.id),
      ...items.filter((i) => i.settings[key] === true).map((i) => i.id),
    ],
    set: (chosen) => {
      let next = draft;
      for (const c of groups) next = putGroup(next, c.id, { [key]: chosen.includes(c.id) ? true : undefined });
      for (const i of items) next = putItems(next, [i.id], { [key]: chosen.includes(i.id) ? true : undefined });
      return next;
    },
  };
}

function pieces(draft: Draft, group: Group): Piece[] {
  const title = titleOf(draft, group);
  const kind = kindOf(group);
  const { lowest = 0, highest = 0 } = group.drop ?? {};
  const drop = (low: number, high: number): Draft =>
    putGroup(draft, group.id, {
      keepBest: undefined,
      drop:
        low + high === 0 ? undefined : { ...(low > 0 ? { lowest: low } : {}), ...(high > 0 ? { highest: high } : {}) },
    });
  const number = (label: string, value: number, set: (v: number) => Draft, least = 0): Piece => ({
    kind: 'number',
    label: `${label} of ${title}`,
    value,
    whole: true,
    least,
    most: 1000,
    set,
  });
  return [
    title,
    {
      kind: 'choice',
      label: `What ${title} drops`,
      value: kind,
      choices: KINDS,
      set: (value) =>
        value === 'best'
          ? putGroup(draft, group.id, { drop: undefined, keepBest: 3 })
          : drop(value === 'drop' ? 1 : 0, 0),
    },
    ...(kind === 'drop'
      ? [
          number('How many of the lowest', lowest, (v) => drop(v, highest)),
          'and the highest',
          number('How many of the highest', highest, (v) => drop(lowest, v)),
        ]
      : kind === 'best'
        ? [number('How many of the best', group.keepBest!, (v) => putGroup(draft, group.id, { keepBest: v }), 1)]
        : []),
    ...(kind === 'none'
      ? ['.']
      : ['; always kept:', childrenWith(draft, group, `Always kept in ${title}`, 'none of it', 'alwaysKept'), '.']),
  ];
}

export const DROPS: Part = {
  id: 'drops',
  title: 'Drops',
  lead: () =>
    'What is dropped is the set that leaves a category highest, not always the worst scores; the working of each student names it.',
  sentences: (draft) =>
    groupsDeep(draft.rules.tree)
      .filter(drops)
      .map(({ group, depth }): Sentence => ({
        id: `drops of ${group.id}`,
        onlyHere: kindOf(group) === 'none',
        depth,
        about: [`/node/${group.id}/drop`, `/node/${group.id}/keepBest`],
        touches: itemsUnder(draft, group),
        pieces: depth === 0 ? ['Of its categories', ...pieces(draft, group)] : pieces(draft, group),
      })),
};
