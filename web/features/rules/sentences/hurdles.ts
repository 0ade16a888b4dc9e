import type { Hurdle } from '@core/book/document';
import { putRules, type Draft } from '../draft';
import { hurdleChoices, itemsOfNode } from '../draft-alsos';
import { bandsOf } from './letters/scales';
import { variantsOf } from './variants';
import type { ChoicePiece, NumberPiece, Part, Piece, Sentence } from './sentence';

const ASKS = [
  { value: 'figure', text: 'less than' },
  { value: 'handed-in', text: 'nothing handed in' },
];
const THENS = [
  { value: 'percent', text: 'the final percentage is at most' },
  { value: 'node', text: 'the final percentage is at most what this has:' },
  { value: 'cap-letter', text: 'the letter is at most' },
  { value: 'letter', text: 'the letter is' },
];
const thenOf = ({ capAt, letter }: Hurdle): string =>
  letter !== undefined ? 'letter' : typeof capAt === 'object' ? (capAt.node === undefined ? 'cap-letter' : 'node') : 'percent'; // prettier-ignore

/** Labels of the book's letters and of every variant's. */
function lettersIn(draft: Draft): { value: string; text: string }[] {
  const scales = draft.rules.rules?.scales ?? {};
  const others = variantsOf(draft).flatMap(([, v]) => (v.scale ? (scales[v.scale]?.bands ?? []) : []));
  const labels = [...new Set([...bandsOf(draft), ...others].map((b) => b.label))];
  return labels.map((label) => ({ value: label, text: label }));
}

/** A hurdle changed; `n` counts from 1 and stands in the labels of its words. */
interface Edit {
  draft: Draft;
  hurdle: Hurdle;
  n: number;
  /** Sets keys; what is undefined is gone. */
  set(keys: Partial<Hurdle>): Draft;
  takeOut: Piece;
}

const number = (label: string, value: number, set: (v: number) => Draft, more: Partial<NumberPiece> = {}): NumberPiece => ({ kind: 'number', label, value, unit: ' %', most: 1000, set, ...more }); // prettier-ignore
const choice = (label: string, value: string, choices: ChoicePiece['choices'], set: (v: string) => Draft): ChoicePiece => ({ kind: 'choice', label, value, choices, set }); // prettier-ignore

function consequence({ draft, hurdle: h, n, set }: Edit): Piece[] {
  const letters = lettersIn(draft);
  const nodes = hurdleChoices(draft);
  const first = letters.at(-2)?.value ?? letters[0]?.value ?? '';
  const to = (kind: string): Partial<Hurdle> => {
    if (kind === 'letter') return { capAt: undefined, letter: 'I' };
    if (kind === 'node') return { capAt: { node: h.node }, letter: undefined };
    return { capAt: kind === 'cap-letter' ? { letter: first } : 39, letter: undefined };
  };
  const kind = thenOf(h);
  return [
    choice(
      `What hurdle ${n} does`,
      kind,
      THENS.filter((t) => t.value !== 'cap-letter' || letters.length > 0 || kind === 'cap-letter'),
      (value) => set(to(value)),
    ),
    ...(typeof h.capAt === 'number' ? [number(`Most below hurdle ${n}`, h.capAt, (capAt) => set({ capAt }))] : []),
    ...(typeof h.capAt === 'object' && h.capAt.node !== undefined ? [choice(`What hurdle ${n} holds at`, h.capAt.node, nodes, (node) => set({ capAt: { node } }))] : []), // prettier-ignore
    ...(typeof h.capAt === 'object' && h.capAt.letter !== undefined ? [choice(`Highest letter below hurdle ${n}`, h.capAt.letter, letters, (letter) => set({ capAt: { letter } }))] : []), // prettier-ignore
    ...(h.letter === undefined
      ? []
      : [
          {
            kind: 'word' as const,
            label: `Letter of hurdle ${n}`,
            value: h.letter,
            set: (text: string) => (text === '' || text.length > 20 ? { message: 'A letter has 1 to 20 letters.' } : set({ letter: text })), // prettier-ignore
          },
        ]),
  ];
}

function hurdlePieces(edit: Edit): Piece[] {
  const { draft, hurdle: h, n, set, takeOut } = edit;
  const asksForWork = h.atLeast === 'handed-in';
  const nodes = hurdleChoices(draft);
  const items = draft.items.map((i) => ({ value: i.id, text: i.title }));
  return [
    'With',
    choice(
      `What hurdle ${n} asks`,
      asksForWork ? 'handed-in' : 'figure',
      items.length > 0 ? ASKS : ASKS.slice(0, 1),
      (value) =>
        value === 'figure'
          ? set({ atLeast: 40 })
          : set({ atLeast: 'handed-in', ...(items.some((i) => i.value === h.node) ? {} : { node: items[0]!.value }) }),
    ),
    ...(typeof h.atLeast === 'number' ? [number(`Least of hurdle ${n}`, h.atLeast, (atLeast) => set({ atLeast })), 'in'] : ['for']), // prettier-ignore
    choice(`What hurdle ${n} is in`, h.node, asksForWork ? items : nodes, (node) => set({ node })),
    ',',
    ...consequence(edit),
    '.',
    takeOut,
  ];
}

function countPieces({ draft, hurdle: h, n, set, takeOut }: Edit): Piece[] {
  const items = draft.items.filter((i) => i.settings.counts === false).map((i) => ({ value: i.id, text: i.title }));
  const takes = h.takes?.letters === undefined ? 'percent' : 'letters';
  return [
    'Of',
    choice(`What is counted ${n}`, h.node, items, (node) => set({ node })),
    ', each',
    number(`How many at once ${n}`, h.each!, (each) => set({ each }), { unit: '', least: 0.0001, most: 1_000_000 }),
    'beyond',
    number(`How many are free ${n}`, h.over!, (over) => set({ over }), { unit: '', most: 1_000_000 }),
    takes === 'percent' ? 'takes' : 'takes the letter down by',
    number(`What it takes ${n}`, h.takes!.percent ?? h.takes!.letters!, (v) => set({ takes: { [takes]: v } }), {
      unit: '',
      ...(takes === 'letters' ? { whole: true } : {}),
    }),
    choice(
      `Of what it takes ${n}`,
      takes,
      [
        { value: 'percent', text: '% off the final percentage' },
        { value: 'letters', text: 'bands' },
      ],
      (kind) => set({ takes: kind === 'letters' ? { letters: 1 } : { percent: 2 } }),
    ),
    ',',
    choice(
      `How often ${n}`,
      h.most === undefined ? 'always' : 'most',
      [
        { value: 'always', text: 'however many there are' },
        { value: 'most', text: 'but no more often than' },
      ],
      (value) => set({ most: value === 'most' ? 5 : undefined }),
    ),
    ...(h.most === undefined ? [] : [number(`How often at most ${n}`, h.most, (most) => set({ most }), { unit: ' times', whole: true, most: 1_000_000 })]), // prettier-ignore
    '.',
    takeOut,
  ];
}

export const HURDLES: Part = {
  id: 'hurdles',
  title: 'Hurdles',
  lead: () =>
    'What has to be reached, whatever the rest comes to. A hurdle waits while something of it is open: a half-marked survey fails nobody.',
  sentences: (draft) => {
    const hurdles = draft.rules.hurdles ?? [];
    const put = (next: Hurdle[]): Draft => putRules(draft, { hurdles: next.length === 0 ? undefined : next });
    const shown = draft.items.find((i) => i.settings.counts === false);
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
              put([
                ...hurdles,
                { node: hurdleChoices(draft)[1]?.value ?? draft.rules.tree.id, atLeast: 40, capAt: 39 },
              ]),
          },
          ...(shown
            ? [
                {
                  kind: 'act' as const,
                  text: 'something counted takes off',
                  label: 'Something counted takes off',
                  does: () => put([...hurdles, { node: shown.id, over: 3, each: 1, takes: { percent: 2 } }]),
                },
              ]
            : []),
        ],
      },
      ...hurdles.map((hurdle, at): Sentence => {
        const set = (keys: Partial<Hurdle>): Draft =>
          put(hurdles.map((x, j) => (j === at ? (tidy({ ...x, ...keys }) as Hurdle) : x)));
        const n = at + 1;
        const isCount = hurdle.over !== undefined;
        const takeOut: Piece = {
          kind: 'act',
          text: 'take out',
          label: `Take hurdle ${n} out`,
          does: () => put(hurdles.filter((_, j) => j !== at)),
        };
        const edit: Edit = { draft, hurdle, n, set, takeOut };
        return {
          id: `hurdle ${at}`,
          about: [`/hurdles/${at}`],
          touches: itemsOfNode(draft, hurdle.node),
          pieces: isCount ? countPieces(edit) : hurdlePieces(edit),
        };
      }),
    ];
  },
};

const tidy = (h: Hurdle): Partial<Hurdle> => Object.fromEntries(Object.entries(h).filter(([, v]) => v !== undefined));
