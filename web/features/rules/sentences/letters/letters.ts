import type { Rounding, Scale, ShownScale } from '@core/book/document';
import { shareSentences } from './letter-shares';
import { lineWord } from '../line-word';
import { bandsOf, moveBand, putBands, putScale, scaleOf } from './scales';
import { freshName, namesOf, put, putRule, putRules, renameRule, type Draft } from '../../draft';
import { nameWord } from '../name-word';
import type { Part, Piece, Sentence } from '../sentence';

const NONE = '*none';
const FRESH = '*fresh';
/** What a new scale begins with. */
const FIRST: Scale = {
  bands: [
    { label: 'A', from: 85 },
    { label: 'B', from: 70 },
    { label: 'C', from: 55 },
    { label: 'D', from: 45 },
    { label: 'F', from: 0 },
  ],
};

/** A band more, in the widest gap. */
function oneMore(draft: Draft): Draft {
  const bands = bandsOf(draft);
  const labels = new Set(bands.map((b) => b.label));
  let label = 'New';
  for (let n = 2; labels.has(label); n++) label = `New ${n}`;
  const above = [Math.max(100, bands[0]!.from), ...bands.map((b) => b.from)];
  let widest = 0;
  for (let n = 1; n < bands.length; n++)
    if (above[n]! - above[n + 1]! > above[widest]! - above[widest + 1]!) widest = n;
  const from = Math.round(((above[widest]! + above[widest + 1]!) / 2) * 100) / 100;
  return putBands(draft, [...scaleOf(draft)!.bands, { label, from }]);
}

function band(draft: Draft, { label, from }: Scale['bands'][number], count: number): Sentence {
  const { bands } = scaleOf(draft)!;
  return {
    id: `band ${label}`,
    shared: { matter: 'letters', place: { kind: 'rule', name: draft.rules.scale! } },
    pieces: [
      {
        kind: 'word',
        label: `Label of the letter ${label}`,
        value: label,
        set: (text) =>
          text === '' || text.length > 20
            ? { message: 'A letter has a label of 1 to 20 letters.' }
            : text !== label && bands.some((b) => b.label === text)
              ? { message: `There is a letter “${text}” already.` }
              : putScale(draft, { bands: bands.map((b) => (b.label === label ? { ...b, label: text } : b)) }),
      },
      'from',
      ...(from === 0
        ? ['0 %, so that everybody has a letter.']
        : [
            {
              kind: 'number' as const,
              label: `From what percentage ${label}`,
              value: from,
              unit: ' %',
              most: 1000,
              least: 0.0001,
              set: (value: number) => moveBand(draft, label, value),
            },
            '.',
          ]),
      ...(from > 0 && count > 1
        ? [
            {
              kind: 'act' as const,
              text: 'take out',
              label: `Take the letter ${label} out`,
              does: () =>
                putBands(
                  draft,
                  bands.filter((b) => b.label !== label),
                ),
            },
          ]
        : []),
    ],
  };
}

export const LETTERS: Part = {
  id: 'letters',
  title: 'Letters',
  lead: (draft) =>
    scaleOf(draft)
      ? 'Drag a letter’s edge along the class, or type where it begins.'
      : 'This book has no letters: its final grades are percentages alone.',
  sentences: (draft) => {
    const scale = scaleOf(draft);
    const name = draft.rules.scale ?? '';
    const bands = bandsOf(draft);
    return [
      {
        id: 'scale',
        shared: { matter: 'letters', place: { kind: 'default' } },
        about: ['/scale', `/rules/scales/${name}`],
        pieces: [
          'Final grades are',
          {
            kind: 'choice',
            label: 'Which letters',
            value: scale ? name : NONE,
            choices: [
              { value: NONE, text: 'percentages alone' },
              ...namesOf(draft, 'scales').map((n) => ({ value: n, text: `letters by “${n}”` })),
              { value: FRESH, text: 'letters by a new scale' },
            ],
            set: (value) => {
              if (value === NONE) return putRules(draft, { scale: null });
              if (value !== FRESH) return putRules(draft, { scale: value });
              const fresh = freshName(draft, 'scales', 'letters');
              return putRules(putRule(draft, 'scales', fresh, FIRST), { scale: fresh });
            },
          },
          ...(scale
            ? [
                ', looked up by the',
                {
                  kind: 'choice' as const,
                  label: 'Looked up by',
                  value: scale.lookUp ?? 'rounded',
                  choices: [
                    { value: 'rounded', text: 'rounded' },
                    { value: 'exact', text: 'exact' },
                  ],
                  set: (value: string) => putScale(draft, { lookUp: value as 'rounded' | 'exact' }),
                },
                'percentage.',
                { kind: 'act' as const, text: 'a letter more', label: 'A letter more', does: () => oneMore(draft) },
              ]
            : ['.']),
        ],
      },
      ...(scale
        ? [
            {
              id: 'scale name',
              shared: { matter: 'letters' as const, place: { kind: 'rule' as const, name }, silent: true as const },
              onlyHere: true,
              pieces: [
                'This scale is called',
                nameWord(
                  'scale',
                  name,
                  namesOf(draft, 'scales'),
                  (to) => renameRule(draft, 'scales', name, to),
                  'Name of the scale',
                ),
                '.',
              ] satisfies Piece[],
            },
          ]
        : []),
      ...bands.map((b) => band(draft, b, bands.length)),
      ...shareSentences(draft),
    ];
  },
};

export const MODES: { value: Rounding['mode']; text: string }[] = [
  { value: 'half-up', text: 'a half goes up' },
  { value: 'half-even', text: 'a half goes to the even digit' },
  { value: 'down', text: 'always down' },
];

/** The final percentage once more, on the school's own scale. */
function shownSentence(draft: Draft): Sentence {
  const { shown } = draft.rules;
  const set = (keys: Partial<ShownScale>): Draft => putRules(draft, { shown: put({ ...shown! }, keys) });
  const first: ShownScale = { through: [[0, 0], [100, 20]], decimals: 2, mode: 'half-up', label: '/ 20' }; // prettier-ignore
  return {
    id: 'shown',
    about: ['/shown'],
    onlyHere: !shown,
    pieces: [
      'A final grade is shown',
      {
        kind: 'choice',
        label: 'How a final grade is shown',
        value: shown ? 'more' : 'percent',
        choices: [
          { value: 'percent', text: 'as a percentage' },
          { value: 'more', text: 'as a percentage, and once more on another scale:' },
        ],
        set: (to) => putRules(draft, { shown: to === 'more' ? first : undefined }),
      },
      ...(shown
        ? [
            lineWord('What percentages are on that scale', shown.through, (through) => set({ through })),
            ', rounded to',
            {
              kind: 'choice' as const,
              label: 'What it is rounded to on that scale',
              value: shown.step === undefined ? 'decimals' : 'step',
              choices: [
                { value: 'decimals', text: 'so many decimals:' },
                { value: 'step', text: 'multiples of' },
              ],
              set: (to: string) => set(to === 'step' ? { step: 1 } : { step: undefined }),
            },
            ...(shown.step === undefined
              ? []
              : [
                  { kind: 'number' as const, label: 'Multiples on that scale', value: shown.step, least: 0.0001, most: 1000, set: (step: number) => set({ step, decimals: Math.max(shown.decimals, decimalsOf(step)) }) }, // prettier-ignore
                  'with this many decimals:',
                ]),
            { kind: 'number' as const, label: 'Decimals on that scale', value: shown.decimals, whole: true, least: shown.step === undefined ? 0 : decimalsOf(shown.step), most: 4, set: (decimals: number) => set({ decimals }) }, // prettier-ignore
            ',',
            { kind: 'choice' as const, label: 'Rounding on that scale', value: shown.mode, choices: MODES, set: (mode: string) => set({ mode: mode as Rounding['mode'] }) }, // prettier-ignore
            ', written',
            {
              kind: 'word' as const,
              label: 'What is written behind it',
              value: shown.label ?? '',
              none: 'with nothing behind it',
              set: (text: string) => (text.length > 20 ? { message: 'At most 20 letters are written behind it.' } : set({ label: text === '' ? undefined : text })), // prettier-ignore
            },
          ]
        : []),
      '.',
    ],
  };
}

/** How many decimals a number has. */
const decimalsOf = (x: number): number => [0, 1, 2, 3].find((d) => Number(x.toFixed(d)) === x) ?? 4;

export const ROUNDING: Part = {
  id: 'rounding',
  title: 'Rounding',
  lead: () => 'Everything is worked out exactly; only the final percentage is rounded, once.',
  sentences: (draft) => {
    const { rounding } = draft.rules;
    const set = (keys: Partial<Rounding>): Draft => putRules(draft, { rounding: { ...rounding, ...keys } });
    return [
      {
        id: 'rounding',
        shared: { matter: 'rounding', place: { kind: 'value' } },
        about: ['/rounding'],
        pieces: [
          'A final percentage is rounded once, at the end, to',
          {
            kind: 'number',
            label: 'Decimals',
            value: rounding.decimals,
            whole: true,
            most: 4,
            set: (decimals) => set({ decimals }),
          },
          'decimals;',
          {
            kind: 'choice',
            label: 'Rounding',
            value: rounding.mode,
            choices: MODES,
            set: (mode) => set({ mode: mode as Rounding['mode'] }),
          },
          '.',
        ],
      },
      shownSentence(draft),
      {
        id: 'closing',
        onlyHere: !draft.rules.closing,
        pieces: [
          'Blanks count by their dates',
          {
            kind: 'choice',
            label: 'Whether the term is being closed',
            value: draft.rules.closing ? 'yes' : 'no',
            choices: [
              { value: 'no', text: 'as the term goes on' },
              { value: 'yes', text: 'as if every date were past: the term is being closed' },
            ],
            set: (value) => putRules(draft, { closing: value === 'yes' ? true : undefined }),
          },
          '.',
        ],
      },
    ];
  },
};
