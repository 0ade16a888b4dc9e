import type { Group, Rounding, Then } from '@core/book/document';
import { groupsDeep, itemsUnder, putGroup, titleOf, type Draft } from '../draft';
import { MODES } from './letters/letters';
import { lineWord } from './line-word';
import type { Part, Piece, Sentence } from './sentence';

const KINDS: { value: string; text: string; then: Then | undefined }[] = [
  { value: 'as-is', text: 'as it is', then: undefined },
  { value: 'step', text: 'rounded to multiples of', then: { step: 1, mode: 'half-up' } },
  { value: 'through', text: 'along a line:', then: { through: [[0, 0], [80, 100]] } }, // prettier-ignore
  { value: 'steps', text: 'in steps:', then: { steps: [[50, 50], [90, 100]] } }, // prettier-ignore
];
const kindOf = (then: Then | null | undefined): string =>
  then?.step !== undefined ? 'step' : then?.through ? 'through' : then?.steps ? 'steps' : 'as-is';

/** How a group's figure is bent before it goes on. */
function pieces(draft: Draft, group: Group): Piece[] {
  const title = titleOf(draft, group);
  const then = group.then ?? null;
  const set = (to: Then | undefined): Draft => putGroup(draft, group.id, { then: to });
  return [
    {
      kind: 'choice',
      label: `How ${title} goes on`,
      value: kindOf(then),
      choices: KINDS.map(({ value, text }) => ({ value, text })),
      set: (to) => set(KINDS.find((k) => k.value === to)!.then),
    },
    ...(then?.step !== undefined
      ? [
          { kind: 'number' as const, label: `Multiples for ${title}`, value: then.step, unit: ' %', least: 0.0001, most: 1000, set: (step: number) => set({ ...then, step }) }, // prettier-ignore
          ',',
          { kind: 'choice' as const, label: `Rounding of ${title}`, value: then.mode!, choices: MODES, set: (mode: string) => set({ ...then, mode: mode as Rounding['mode'] }) }, // prettier-ignore
        ]
      : []),
    ...(then?.through ? [lineWord(`Line of ${title}`, then.through, (through) => set({ through }))] : []),
    ...(then?.steps ? [lineWord(`Steps of ${title}`, then.steps, (steps) => set({ steps }), 1)] : []),
    '.',
  ];
}

export const THEN: Part = {
  id: 'then',
  title: 'Before it goes on',
  lead: () =>
    'What a category comes to can be rounded, bent or put in steps before it counts further up: quarters in whole percent, eighty that is already full marks.',
  sentences: (draft) =>
    groupsDeep(draft.rules.tree).map(({ group, depth }): Sentence => ({
      id: `then of ${group.id}`,
      onlyHere: !group.then,
      depth,
      about: [`/node/${group.id}/then`],
      touches: itemsUnder(draft, group),
      pieces: [depth === 0 ? 'The whole goes on' : `${titleOf(draft, group)} goes on`, ...pieces(draft, group)],
    })),
};
