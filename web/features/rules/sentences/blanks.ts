import type { BlankRule } from '@core/book/document';
import { freshName, groupsDeep, itemsUnder, namesOf, putGroup, putRule, ruleOf, titleOf, type Draft } from '../draft';
import { bookRule, ownRules, ruleTools, usersOf } from './named-rules';
import type { Part, Sentence } from './sentence';

const EMPTY = [
  { value: 'skip', text: 'is left out' },
  { value: 'zero', text: 'counts what never came as 0' },
];

function rule(draft: Draft, name: string): Sentence[] {
  const b = ruleOf(draft, 'blank', name)!;
  const set = (keys: Partial<BlankRule>): Draft => putRule(draft, 'blank', name, { ...b, ...keys });
  const touches = usersOf(draft, 'blank', name);
  const about = [`/rules/blank/${name}`];
  const tag = namesOf(draft, 'blank').length > 1 ? ` (${name})` : '';
  return [
    { id: `blank ${name} tools`, ...ruleTools(draft, 'blank', name, 'Blanks', touches) },
    {
      id: `blank ${name} after`,
      about,
      shared: { matter: 'blank', place: { kind: 'rule', name } },
      touches,
      pieces: [
        'Once it is past its',
        {
          kind: 'choice',
          label: `Which day makes a blank missing${tag}`,
          value: b.missingAfter ?? 'due',
          choices: [
            { value: 'due', text: 'due date' },
            { value: 'closes', text: 'last day' },
          ],
          set: (value) => set({ missingAfter: value as 'due' | 'closes' }),
        },
        ', a blank',
        {
          kind: 'choice',
          label: `A blank past its day${tag}`,
          value: b.afterDue === 'skip' ? 'skip' : 'percent',
          choices: [
            { value: 'skip', text: 'is left out too' },
            { value: 'percent', text: 'is missing and counts' },
          ],
          set: (value) => set({ afterDue: value === 'skip' ? 'skip' : { percent: 0 } }),
        },
        ...(b.afterDue === 'skip'
          ? ['.']
          : [
              {
                kind: 'number' as const,
                label: `Percent for a blank past its day${tag}`,
                value: b.afterDue.percent,
                unit: ' %',
                most: 1000,
                set: (value: number) => set({ afterDue: { percent: value } }),
              },
              'of the points.',
            ]),
      ],
    },
    {
      id: `blank ${name} before`,
      about,
      shared: { matter: 'blank', place: { kind: 'rule', name } },
      touches,
      pieces: [
        'Until then it',
        {
          kind: 'choice',
          label: `A blank before its day${tag}`,
          value: b.beforeDue,
          choices: [
            { value: 'skip', text: 'is left out' },
            { value: 'zero', text: 'counts 0' },
          ],
          set: (value) => set({ beforeDue: value as BlankRule['beforeDue'] }),
        },
        '.',
      ],
    },
  ];
}

export const BLANKS: Part = {
  id: 'blanks',
  title: 'Blanks',
  lead: () =>
    'What counts where nothing came. Work that has come in and waits to be marked is never a zero, and a blank in extra credit never hurts.',
  sentences: (draft) => [
    bookRule(draft, 'blank'),
    ...namesOf(draft, 'blank').flatMap((name) => rule(draft, name)),
    ...ownRules(draft, 'blank', (d) => {
      const name = freshName(d, 'blank', 'another rule');
      return { name, draft: putRule(d, 'blank', name, { ...ruleOf(d, 'blank', d.rules.blank)! }) };
    }),
    ...groupsDeep(draft.rules.tree).map(({ group, depth }, i): Sentence => ({
      id: `empty ${group.id}`,
      onlyHere: group.whenEmpty !== 'zero',
      depth,
      ...(i === 0 ? { heading: 'Where nothing counts at all' } : {}),
      touches: itemsUnder(draft, group),
      pieces: [
        depth === 0
          ? 'The whole, with nothing in it that counts,'
          : `${titleOf(draft, group)}, with nothing in it that counts,`,
        {
          kind: 'choice',
          label: `${titleOf(draft, group)} with nothing in it that counts`,
          value: group.whenEmpty ?? 'skip',
          choices: EMPTY,
          set: (value) => putGroup(draft, group.id, { whenEmpty: value === 'skip' ? undefined : 'zero' }),
        },
        '.',
      ],
    })),
  ],
};
