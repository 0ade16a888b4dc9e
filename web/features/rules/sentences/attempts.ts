import type { AttemptUse } from '@core/book/document';
import type { ItemSettings } from '@core/proposal/proposal';
import { amountsIn } from '../../../ui/text/amount';
import { groupsDeep, itemsIn, putItems, titleOf, type Draft, type DraftItem } from '../draft';
import type { Part, Piece, Sentence } from './sentence';

type Attempts = NonNullable<ItemSettings['attempts']>;
const USE: { value: AttemptUse; text: string }[] = [
  { value: 'best', text: 'the best' },
  { value: 'latest', text: 'the latest' },
  { value: 'first', text: 'the first' },
  { value: 'mean', text: 'the average' },
  { value: 'decaying', text: 'each newer' },
  { value: 'regain', text: 'the first' },
];
/** What distinguishes two that begin alike. */
const MORE: Partial<Record<AttemptUse, string>> = { regain: 'the first, and what is won back,' };

/** What several items have in common; `various` where they differ. */
function common<T>(items: readonly DraftItem[], of: (i: DraftItem) => T): T | 'various' {
  const all = new Map(items.map((i) => [JSON.stringify(of(i)) ?? '', of(i)]));
  return all.size === 1 ? [...all.values()][0]! : 'various';
}

const useOf = (i: DraftItem): AttemptUse => i.settings.attempts?.use ?? 'best';
const capOf = (i: DraftItem) => i.settings.attempts?.retakeCap;

/** The way with the percent it needs, and without that of another way. */
const usual = (use: AttemptUse): Partial<Attempts> => ({
  use,
  ...(use === 'decaying' ? { newest: 60 } : use === 'regain' ? { regain: 50 } : {}),
});

function withAttempts(draft: Draft, items: readonly DraftItem[], next: (was: Attempts) => Attempts): Draft {
  return items.reduce((d, i) => {
    const { use = 'best', newest, regain, retakeCap, info } = next(i.settings.attempts ?? {});
    const is: Attempts = {
      ...(use === 'best' ? {} : { use }),
      ...(use === 'decaying' ? { newest: newest ?? 60 } : {}),
      ...(use === 'regain' ? { regain: regain ?? 50 } : {}),
      ...(retakeCap === undefined ? {} : { retakeCap }),
      ...(info === undefined ? {} : { info }),
    };
    return putItems(d, [i.id], { attempts: Object.keys(is).length === 0 ? undefined : is });
  }, draft);
}

function pieces(draft: Draft, items: readonly DraftItem[], title: string): Piece[] {
  const use = common(items, useOf);
  const cap = common(items, capOf);
  const set = (keys: Partial<Attempts>): Draft => withAttempts(draft, items, (was) => ({ ...was, ...keys }));
  const various = (is: unknown): { value: string; text: string }[] =>
    is === 'various' ? [{ value: 'various', text: 'various' }] : [];
  const percent = (key: 'newest' | 'regain', label: string): Piece => ({
    kind: 'number',
    label: `${label} of ${title}`,
    value: items[0]!.settings.attempts?.[key] ?? 0,
    unit: ' %',
    ...(key === 'newest' ? { least: 1 } : {}),
    most: 100,
    set: (value: number) => set({ [key]: value }),
  });
  const kind = cap === 'various' ? cap : cap === undefined ? 'all' : Array.isArray(cap) ? 'falls' : 'cap';
  return [
    {
      kind: 'choice',
      label: `Which attempt of ${title} counts`,
      value: use,
      choices: [...various(use), ...USE.map((u) => ({ ...u, text: MORE[u.value] ?? u.text }))],
      set: (value) => (value === 'various' ? draft : set(usual(value as AttemptUse))),
    },
    ...(use === 'decaying'
      ? ['attempt makes', percent('newest', 'What the newest attempt makes'), 'of it, what went before the rest']
      : use === 'regain'
        ? ['counts:', percent('regain', 'What is won back'), 'of what the best later attempt is above it']
        : ['attempt counts']),
    '; later ones can earn',
    {
      kind: 'choice',
      label: `What later attempts of ${title} can earn`,
      value: kind,
      choices: [
        ...various(cap),
        { value: 'all', text: 'all of the points' },
        { value: 'cap', text: 'at most' },
        { value: 'falls', text: 'less from try to try:' },
      ],
      set: (value) =>
        value === 'various'
          ? draft
          : set({
              retakeCap: value === 'all' ? undefined : value === 'falls' ? [90, 80, 70] : 80,
            } as Partial<Attempts>),
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
    ...(Array.isArray(cap)
      ? [
          {
            kind: 'word' as const,
            label: `Most for the second, the third and each further attempt of ${title}`,
            value: cap.join(', '),
            set: (text: string) => {
              const caps = amountsIn(text);
              return caps ? set({ retakeCap: caps }) : { message: 'Say a percentage for each attempt from the second on, as in 90, 80, 70.' }; // prettier-ignore
            },
          },
          '%',
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
