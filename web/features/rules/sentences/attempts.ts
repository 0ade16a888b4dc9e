import type { ItemSettings } from '@core/proposal/proposal';
import { groupsDeep, itemsIn, putItems, titleOf, type Draft, type DraftItem } from '../draft';
import type { Part, Piece, Sentence } from './sentence';

type Attempts = NonNullable<ItemSettings['attempts']>;
const USE: { value: NonNullable<Attempts['use']>; text: string }[] = [
  { value: 'best', text: 'the best' },
  { value: 'latest', text: 'the latest' },
  { value: 'first', text: 'the first' },
  { value: 'mean', text: 'the average' },
];

/** What several items have in common; `various` where they differ. */
function common<T>(items: readonly DraftItem[], of: (i: DraftItem) => T): T | 'various' {
  const all = new Set(items.map(of));
  return all.size === 1 ? [...all][0]! : 'various';
}

const useOf = (i: DraftItem) => i.settings.attempts?.use ?? 'best';
const capOf = (i: DraftItem) => i.settings.attempts?.retakeCap;

function pieces(draft: Draft, items: readonly DraftItem[], title: string): Piece[] {
  const use = common(items, useOf);
  const cap = common(items, capOf);
  const set = (keys: Partial<Attempts>): Draft =>
    items.reduce((d, i) => {
      const next = { ...i.settings.attempts, ...keys };
      if (next.use === 'best') delete next.use;
      if (next.retakeCap === undefined) delete next.retakeCap;
      return putItems(d, [i.id], { attempts: Object.keys(next).length === 0 ? undefined : next });
    }, draft);
  const various = (is: unknown): { value: string; text: string }[] =>
    is === 'various' ? [{ value: 'various', text: 'various' }] : [];
  return [
    {
      kind: 'choice',
      label: `Which attempt of ${title} counts`,
      value: use,
      choices: [...various(use), ...USE],
      set: (value) => (value === 'various' ? draft : set({ use: value as Attempts['use'] })),
    },
    'attempt counts; later ones can earn',
    {
      kind: 'choice',
      label: `What later attempts of ${title} can earn`,
      value: cap === 'various' ? cap : cap === undefined ? 'all' : 'cap',
      choices: [...various(cap), { value: 'all', text: 'all of the points' }, { value: 'cap', text: 'at most' }],
      set: (value) => (value === 'various' ? draft : set({ retakeCap: value === 'all' ? undefined : 80 })),
    },
    ...(typeof cap === 'number'
      ? [
          {
            kind: 'number' as const,
            label: `Most for later attempts of ${title}`,
            value: cap,
            unit: ' %',
            most: 1000,
            set: (value: number) => set({ retakeCap: value }),
          },
        ]
      : []),
    '.',
  ];
}

export const ATTEMPTS: Part = {
  id: 'attempts',
  title: 'Attempts',
  lead: () => 'Which attempt counts where there are several. Each has its own lateness.',
  sentences: (draft) =>
    groupsDeep(draft.rules.tree).flatMap(({ group }): Sentence[] => {
      const items = itemsIn(draft, group.id);
      if (items.length === 0) return [];
      const title = titleOf(draft, group);
      return [
        ...(items.length > 1
          ? [
              {
                id: `attempts of ${group.id}`,
                onlyHere: true,
                heading: title,
                touches: items.map((i) => i.id),
                pieces: ['Of all of it', ...pieces(draft, items, `all of ${title}`)],
              },
            ]
          : []),
        ...items.map((i, n): Sentence => ({
          id: `attempts of item ${i.id}`,
          onlyHere: i.settings.attempts === undefined,
          depth: 1,
          touches: [i.id],
          ...(items.length === 1 && n === 0 ? { heading: title } : {}),
          pieces: [`Of ${i.title}`, ...pieces(draft, [i], i.title)],
        })),
      ];
    }),
};
