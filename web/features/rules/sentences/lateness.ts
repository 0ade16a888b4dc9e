import { counted, formOf } from '@core/words/count';
import type { LateRule } from '@core/book/document';
import { dayWords, readDays } from '../words/day-list';
import { freshName, namesOf, put, putRule, putRules, ruleOf, type Draft } from '../draft';
import { bookRule, ownRules, ruleTools, usersOf } from './named-rules';
import type { NumberPiece, Part, Piece, Sentence } from './sentence';

/** Days of the week, as a choice of several. */
export const DAYS = ['Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays', 'Sundays'].map(
  (text, i) => ({
    value: String(i + 1),
    text,
  }),
);
/** What a new rule says. */
const USUAL: LateRule = { unit: 'day', deduct: 10, max: 50, graceMinutes: 15 };

export function addLate(draft: Draft): { name: string; draft: Draft } {
  const name = freshName(draft, 'late', 'steady');
  return { name, draft: putRule(draft, 'late', name, { ...USUAL, ...draft.days }) };
}

/** Late days for the whole term, spent by themselves. */
function bankSentence(
  name: string,
  l: LateRule,
  tag: string,
  touches: string[],
  set: (keys: Partial<LateRule>) => Draft,
): Sentence {
  const unit = l.unit === 'hour' ? 'late hours' : 'late days';
  const number = (label: string, value: number, to: (v: number) => Draft): Piece => ({ kind: 'number', label: `${label}${tag}`, value, whole: true, most: 10_000, set: to }); // prettier-ignore
  const { bank } = l;
  return {
    id: `late ${name} bank`,
    shared: { matter: 'late', place: { kind: 'rule', name }, silent: true },
    touches,
    pieces: [
      'For the term everybody has',
      {
        kind: 'choice',
        label: `Whether there are ${unit} to spend${tag}`,
        value: bank ? 'some' : 'none',
        choices: [
          { value: 'none', text: `no ${unit} to spend` },
          { value: 'some', text: 'so many to spend:' },
        ],
        set: (value) => set({ bank: value === 'some' ? { units: 3 } : undefined }),
      },
      ...(bank
        ? [
            number('How many there are to spend', bank.units, (units) => set({ bank: { ...bank, units } })),
            `${unit}, spent by themselves in the order of due dates; one assessment takes`,
            {
              kind: 'choice' as const,
              label: `How many one assessment takes${tag}`,
              value: bank.perItem === undefined ? 'all' : 'most',
              choices: [
                { value: 'all', text: 'as many as are left' },
                { value: 'most', text: 'at most' },
              ],
              set: (value: string) => set({ bank: value === 'most' ? { ...bank, perItem: 2 } : { units: bank.units } }),
            },
            ...(bank.perItem === undefined ? [] : [number('How many one assessment takes at most', bank.perItem, (perItem) => set({ bank: { ...bank, perItem } }))]), // prettier-ignore
          ]
        : []),
      '.',
    ],
  };
}

function rule(draft: Draft, name: string): Sentence[] {
  const l = ruleOf(draft, 'late', name)!;
  const set = (keys: Partial<LateRule>): Draft => putRule(draft, 'late', name, put(l, keys));
  const touches = usersOf(draft, 'late', name);
  const about = [`/rules/late/${name}`];
  const tag = namesOf(draft, 'late').length > 1 ? ` (${name})` : '';
  const number = (label: string, value: number, to: (v: number) => Draft, more: Partial<NumberPiece> = {}): Piece => ({
    kind: 'number',
    label: `${label}${tag}`,
    value,
    unit: ' %',
    most: 100,
    set: to,
    ...more,
  });
  const ofWhat: Piece = {
    kind: 'choice',
    label: `Percent of what${tag}`,
    value: l.of ?? 'possible',
    choices: [
      { value: 'possible', text: 'points possible' },
      { value: 'earned', text: 'points earned' },
    ],
    set: (value) => set({ of: value as LateRule['of'] }),
  };
  const shape: Piece = {
    kind: 'choice',
    label: `Steady or in steps${tag}`,
    value: l.steps ? 'steps' : 'steady',
    choices: [
      { value: 'steady', text: 'steadily' },
      { value: 'steps', text: 'in steps' },
    ],
    set: (value) =>
      value === 'steps'
        ? set({
            unit: undefined,
            deduct: undefined,
            steps: [
              { hours: 24, deduct: 10 },
              { hours: 72, deduct: 30 },
            ],
            after: 100,
            bank: undefined,
          })
        : set({ steps: undefined, after: undefined, unit: 'day', deduct: l.steps?.[0]?.deduct ?? 10 }),
  };
  const steady: Piece[] = [
    'Work that comes in late loses',
    shape,
    number('Percent taken', l.deduct ?? 0, (deduct) => set({ deduct })),
    'of the',
    ofWhat,
    'for each',
    {
      kind: 'choice',
      label: `For each${tag}`,
      value: l.unit ?? 'day',
      choices: [
        { value: 'day', text: 'started day' },
        { value: 'hour', text: 'started hour' },
      ],
      set: (value) => set({ unit: value as LateRule['unit'] }),
    },
  ];
  const steps = l.steps ?? [];
  const stepped: Piece[] = [
    'Work that comes in late loses',
    shape,
    ...steps.flatMap((s, i): Piece[] => {
      const at = (keys: Partial<typeof s>): Draft =>
        set({ steps: steps.map((x, j) => (j === i ? { ...x, ...keys } : x)) });
      return [
        number(`Percent of step ${i + 1}`, s.deduct, (deduct) => at({ deduct })),
        'up to',
        number(`Hours of step ${i + 1}`, s.hours, (hours) => at({ hours }), { unit: ' hours', most: 100_000 }),
        ...(steps.length > 1
          ? [
              {
                kind: 'act' as const,
                text: 'less',
                label: `Take step ${i + 1} away${tag}`,
                does: () => set({ steps: steps.filter((_, j) => j !== i) }),
              },
            ]
          : []),
        ',',
      ];
    }),
    'and',
    number('Percent after the steps', l.after ?? 100, (after) => set({ after })),
    'after that, each of the',
    ofWhat,
    {
      kind: 'act',
      text: 'one step more',
      label: `One step more${tag}`,
      does: () => {
        const last = steps[steps.length - 1]!;
        return set({ steps: [...steps, { hours: last.hours + 24, deduct: last.deduct }] });
      },
    },
  ];
  return [
    { id: `late ${name} tools`, ...ruleTools(draft, 'late', name, 'Lateness', touches) },
    {
      id: `late ${name}`,
      about,
      shared: { matter: 'late', place: { kind: 'rule', name } },
      touches,
      pieces: [
        ...(l.steps ? stepped : steady),
        ', at most',
        number('Percent at most', l.max ?? 100, (max) => set({ max })),
        ', with',
        number('Minutes of grace', l.graceMinutes ?? 0, (graceMinutes) => set({ graceMinutes }), {
          unit: ' minutes',
          most: 100_000,
        }),
        'of grace.',
      ],
    },
    {
      id: `late ${name} skips`,
      shared: { matter: 'calendar', place: { kind: 'rule', name } },
      touches,
      pieces: [
        'Days that are not counted:',
        {
          kind: 'many',
          label: `Days of the week that are not counted${tag}`,
          value: (l.skipDays ?? []).map(String),
          choices: DAYS,
          none: 'none of the week',
          set: (days) => set({ skipDays: days.length === 0 ? undefined : days.map(Number).sort((a, b) => a - b) }),
        },
        '; dates that are not counted:',
        {
          kind: 'word',
          label: `Dates that are not counted${tag}`,
          value: dayWords(l.skipDates ?? []),
          none: 'none',
          set: (text) => {
            const read = readDays(text);
            return 'message' in read ? read : set({ skipDates: read.dates.length === 0 ? undefined : read.dates });
          },
        },
        '.',
      ],
    },
    {
      id: `late ${name} closes`,
      shared: { matter: 'late', place: { kind: 'rule', name }, silent: true },
      touches,
      pieces: [
        'Work that comes after it has closed loses',
        {
          kind: 'choice',
          label: `What comes after it has closed loses${tag}`,
          value: l.afterCloses === undefined ? 'rule' : 'more',
          choices: [
            { value: 'rule', text: 'what this rule takes' },
            { value: 'more', text: 'at least' },
          ],
          set: (value) => set({ afterCloses: value === 'rule' ? undefined : 100 }),
        },
        ...(l.afterCloses === undefined
          ? []
          : [number('Percent after it has closed', l.afterCloses, (afterCloses) => set({ afterCloses })), `of the points ${l.of ?? 'possible'}`] as Piece[]), // prettier-ignore
        '.',
      ],
    },
    ...(l.steps ? [] : [bankSentence(name, l, tag, touches, set)]),
    {
      id: `late ${name} floor`,
      shared: { matter: 'late', place: { kind: 'rule', name } },
      touches,
      pieces: [
        'Nothing that was earned falls below',
        number('Late floor', l.floor ?? 0, (floor) => set({ floor: floor === 0 ? undefined : floor })),
        'of the points by it.',
      ],
    },
  ];
}

export const LATENESS: Part = {
  id: 'lateness',
  title: 'Lateness',
  lead: (draft) => {
    const used = new Set(namesOf(draft, 'late').flatMap((name) => usersOf(draft, 'late', name))).size;
    return `${used} of ${counted(draft.items.length, 'assessment')} ${formOf(used, 'loses', 'lose')} points for lateness. On paper, say how late in the ledger: /late 2.`;
  },
  sentences: (draft) => [
    {
      ...bookRule(draft, 'late'),
      pieces: [
        ...bookRule(draft, 'late').pieces,
        { kind: 'act', text: 'a new rule', label: 'A new rule for lateness', does: () => addLate(draft).draft },
      ],
    },
    ...namesOf(draft, 'late').flatMap((name) => rule(draft, name)),
    ...ownRules(draft, 'late', addLate),
    {
      id: 'allowance',
      shared: { matter: 'allowance', place: { kind: 'value' } },
      heading: 'Late allowances',
      touches: draft.items.map((i) => i.id),
      pieces: [
        'One late allowance is worth',
        {
          kind: 'number',
          label: 'Hours of a late allowance',
          value: draft.rules.lateAllowanceHours ?? 24,
          unit: ' hours',
          most: 10_000,
          set: (value) => putRules(draft, { lateAllowanceHours: value === 24 ? undefined : value }),
        },
        '.',
      ],
    },
  ],
};
