import { counted, formOf } from '@core/words/count';
import type { NamedMark } from '@core/book/document';
import { freshName, namesOf, putRule, renameRule, ruleOf, type Draft } from '../draft';
import type { Part, Sentence } from './sentence';

function setOf(draft: Draft, name: string): Sentence[] {
  const marks = ruleOf(draft, 'marks', name)! as NamedMark[];
  const users = draft.items.filter((i) => i.settings.marks === name).map((i) => i.id);
  const set = (next: NamedMark[]): Draft => putRule(draft, 'marks', name, next);
  const at = (n: number, keys: Partial<NamedMark>): Draft =>
    set(marks.map((m, j) => (j === n ? { ...m, ...keys } : m)));
  return [
    {
      id: `marks ${name}`,
      heading: `Marks “${name}”`,
      about: [`/rules/marks/${name}`],
      shared: { matter: 'marks', place: { kind: 'rule', name }, silent: true },
      touches: users,
      pieces: [
        'This set is called',
        {
          kind: 'word',
          label: `Name of the marks ${name}`,
          value: name,
          set: (text) =>
            text === '' || text.length > 60 || text === 'info'
              ? { message: 'A set of marks has a name of 1 to 60 letters.' }
              : namesOf(draft, 'marks').includes(text) && text !== name
                ? { message: `There is a set “${text}” already.` }
                : renameRule(draft, 'marks', name, text),
        },
        draft.items.length === 0
          ? '.'
          : users.length === 0
            ? '. No assessment has it.'
            : `. ${users.length} of ${counted(draft.items.length, 'assessment')} ${formOf(users.length, 'has', 'have')} it.`,
        {
          kind: 'act',
          text: 'a mark more',
          label: `A mark more in ${name}`,
          does: () => {
            let label = 'New';
            for (let n = 2; marks.some((m) => m.label === label); n++) label = `New ${n}`;
            return set([...marks, { label, percent: 50 }]);
          },
        },
        ...(users.length === 0
          ? [
              {
                kind: 'act' as const,
                text: 'take it away',
                label: `Take the marks ${name} away`,
                does: () => putRule(draft, 'marks', name, undefined),
              },
            ]
          : []),
      ],
    },
    ...marks.map((m, n): Sentence => ({
      id: `mark ${name} ${n}`,
      shared: { matter: 'marks', place: { kind: 'rule', name } },
      depth: 1,
      touches: users,
      pieces: [
        {
          kind: 'word',
          label: `Mark ${n + 1} of ${name}`,
          value: m.label,
          set: (text) =>
            text === '' || text.length > 60
              ? { message: 'A mark has a label of 1 to 60 letters.' }
              : marks.some((x, j) => j !== n && x.label === text)
                ? { message: `There is a mark “${text}” already.` }
                : at(n, { label: text }),
        },
        'is worth',
        {
          kind: 'number',
          label: `Percent of mark ${n + 1} of ${name}`,
          value: m.percent,
          unit: ' %',
          most: 1000,
          set: (percent) => at(n, { percent }),
        },
        'of the points.',
        ...(marks.length > 1
          ? [
              {
                kind: 'act' as const,
                text: 'take out',
                label: `Take ${m.label} of ${name} out`,
                does: () => set(marks.filter((_, j) => j !== n)),
              },
            ]
          : []),
      ],
    })),
  ];
}

export const MARKS: Part = {
  id: 'marks',
  title: 'Named marks',
  lead: () =>
    'Words in place of points, each worth its percent. An assessment’s own page says by which set it is scored.',
  sentences: (draft) => [
    {
      id: 'marks new',
      onlyHere: true,
      pieces: [
        namesOf(draft, 'marks').length === 0
          ? 'There is no set of marks yet.'
          : 'An assessment can be scored by these sets.',
        {
          kind: 'act',
          text: 'a new set',
          label: 'A new set of marks',
          does: () =>
            putRule(draft, 'marks', freshName(draft, 'marks', 'marks'), [
              { label: 'Pass', percent: 100 },
              { label: 'Fail', percent: 0 },
            ]),
        },
      ],
    },
    ...namesOf(draft, 'marks').flatMap((name) => setOf(draft, name)),
  ],
};
