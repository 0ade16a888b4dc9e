import { itemsIn, type Draft } from '../../draft';
import { PARTS } from '..';
import type { Part, Sentence } from '../sentence';

/** Sentences over all assessments alike say nothing of one: of these only what the book sets apart is taken. */
function concerns(draft: Draft, item: string, s: Sentence): boolean {
  if (s.quiet || !s.touches?.includes(item)) return false;
  const category = draft.items.find((i) => i.id === item)?.category ?? '';
  // A choice for all of a category beside the assessment's own sentence says the same twice.
  return s.id !== `attempts of ${category}` || itemsIn(draft, category).length === 1;
}

/** Every sentence that made one assessment's numbers, in the order in which they are worked out. */
export function partOf(item: string, title: string): Part {
  return {
    id: 'of',
    title: `What makes the numbers of ${title}`,
    lead: () => 'Every rule that touches it, whichever kind it is of. Change a word here as anywhere.',
    sentences: (draft) =>
      ORDER.flatMap((id) => {
        const part = PARTS.find((p) => p.id === id)!;
        return part
          .sentences(draft)
          .filter((s) => concerns(draft, item, s))
          .map((s, n): Sentence => {
            const { heading: _own, ...rest } = s;
            return { ...rest, depth: 0, ...(n === 0 ? { heading: part.title } : {}) };
          });
      }),
  };
}

/** As the contract works a number out: the value first, then what becomes of it. */
const ORDER = [
  'marks',
  'curves',
  'lateness',
  'attempts',
  'blanks',
  'drops',
  'extra',
  'again',
  'then',
  'weights',
  'hurdles',
];
