import { counted, formOf } from '@core/words/count';
import {
  groupsDeep,
  namesOf,
  putGroup,
  putItems,
  putRule,
  putRules,
  renameRule,
  rulesInForce,
  titleOf,
  type Draft,
} from '../draft';
import { nameWord } from './name-word';
import type { ChoicePiece, Piece, Sentence } from './sentence';

const OWN = '*own';
const AS_ABOVE = '*above';
const NONE = '*none';

/** Ids of the items for which a late or blank rule holds. */
export const usersOf = (draft: Draft, set: 'late' | 'blank', name: string): string[] =>
  [...rulesInForce(draft, set)].filter(([, rule]) => rule === name).map(([id]) => id);

const useText = (n: number, all: number): string =>
  n === 0
    ? 'Nothing uses it'
    : n === all
      ? 'Every assessment uses it'
      : `${n} of ${counted(all, 'assessment')} ${formOf(n, 'uses', 'use')} it`;

/** The name of a rule, who uses it, and taking it away where nothing names it. */
export function ruleTools(
  draft: Draft,
  set: 'late' | 'blank',
  name: string,
  title: string,
  touches: string[],
): Omit<Sentence, 'id'> {
  const named =
    draft.rules[set] === name ||
    groupsDeep(draft.rules.tree).some((p) => p.group[set] === name) ||
    draft.items.some((i) => i.settings[set] === name);
  return {
    heading: namesOf(draft, set).length > 1 ? `${title}, “${name}”` : title,
    touches,
    shared: { matter: set, place: { kind: 'rule', name }, silent: true },
    onlyHere: namesOf(draft, set).length === 1,
    pieces: [
      'This rule is called',
      nameWord('rule', name, namesOf(draft, set), (text) => renameRule(draft, set, name, text)),
      draft.items.length === 0 ? '.' : `. ${useText(touches.length, draft.items.length)}.`,
      ...(named
        ? []
        : [
            {
              kind: 'act' as const,
              text: 'take it away',
              label: `Take the rule ${name} away`,
              does: () => putRule(draft, set, name, undefined),
            },
          ]),
    ],
  };
}

/** Which rule the book as a whole goes by. */
export function bookRule(draft: Draft, set: 'late' | 'blank'): Sentence {
  const choices = namesOf(draft, set).map((value) => ({ value, text: `“${value}”` }));
  return {
    id: `book ${set}`,
    onlyHere: choices.length === 1 && !!draft.rules[set],
    about: [`/${set}`],
    shared: { matter: set, place: { kind: 'default' } },
    touches: draft.items.map((i) => i.id),
    pieces: [
      'The book goes by',
      {
        kind: 'choice',
        label: `The rule of the book`,
        value: draft.rules[set] ?? NONE,
        choices: [...(set === 'late' ? [{ value: NONE, text: 'no rule for lateness' }] : []), ...choices],
        set: (value) => putRules(draft, { [set]: value === NONE ? null : value }),
      },
      'where nothing else is said.',
    ],
  };
}

function choice(
  draft: Draft,
  set: 'late' | 'blank',
  label: string,
  value: string | null | undefined,
  assign: (d: Draft, value: string | null | undefined) => Draft,
  fresh: (d: Draft) => { name: string; draft: Draft },
): ChoicePiece {
  return {
    kind: 'choice',
    label,
    value: value === undefined ? AS_ABOVE : (value ?? NONE),
    choices: [
      { value: AS_ABOVE, text: 'the rule above it' },
      ...(set === 'late' ? [{ value: NONE, text: 'no rule' }] : []),
      ...namesOf(draft, set).map((name) => ({ value: name, text: `“${name}”` })),
      { value: OWN, text: 'a rule of its own' },
    ],
    set: (chosen) => {
      if (chosen === AS_ABOVE) return assign(draft, undefined);
      if (chosen === NONE) return assign(draft, null);
      if (chosen !== OWN) return assign(draft, chosen);
      const made = fresh(draft);
      return assign(made.draft, made.name);
    },
  };
}

/** Categories that may go by another rule, and the assessments that do. */
export function ownRules(
  draft: Draft,
  set: 'late' | 'blank',
  fresh: (d: Draft) => { name: string; draft: Draft },
): Sentence[] {
  const groups = groupsDeep(draft.rules.tree)
    // The whole only where it says something: otherwise the book's own rule is the same.
    .filter((p) => p.parent !== null || p.group[set] !== undefined)
    .map(({ group, depth }): Sentence => ({
      id: `${set} of ${group.id}`,
      onlyHere: group[set] === undefined,
      shared: { matter: set, place: { kind: 'group', id: group.id } },
      depth: Math.max(0, depth - 1),
      pieces: [
        `${group.id === draft.rules.tree.id ? 'The whole' : titleOf(draft, group)} goes by`,
        choice(
          draft,
          set,
          `Rule of ${titleOf(draft, group)}`,
          group[set],
          (d, v) => putGroup(d, group.id, { [set]: v }),
          fresh,
        ),
        '.',
      ],
    }));
  const items = draft.items
    .filter((i) => i.settings[set] !== undefined)
    .map((i): Sentence => ({
      id: `${set} of item ${i.id}`,
      shared: { matter: set, place: { kind: 'item', id: i.id } },
      touches: [i.id],
      pieces: [
        `${i.title} goes by`,
        choice(draft, set, `Rule of ${i.title}`, i.settings[set], (d, v) => putItems(d, [i.id], { [set]: v }), fresh),
        '.',
      ],
    }));
  const rest = draft.items.filter((i) => i.settings[set] === undefined);
  const another: Piece[] = [
    'One assessment by another rule:',
    {
      kind: 'choice',
      label: 'An assessment by another rule',
      value: '',
      choices: [{ value: '', text: 'choose it' }, ...rest.map((i) => ({ value: i.id, text: i.title }))],
      set: (id) => putItems(draft, [id], { [set]: draft.rules[set] ?? null }),
    },
    '.',
  ];
  const all = [
    ...groups,
    ...items,
    ...(rest.length > 0 ? [{ id: `${set} another`, onlyHere: true, pieces: another }] : []),
  ];
  return all.map((s, i) => (i === 0 ? { ...s, heading: 'Who goes by which' } : s));
}
