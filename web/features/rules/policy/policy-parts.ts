import type { PolicyArea, Enforcement } from '@core/policy/document';
import type { Draft } from '../draft';
import { BLANKS } from '../sentences/blanks';
import { LATENESS } from '../sentences/lateness';
import { LETTERS, ROUNDING } from '../sentences/letters/letters';
import { MARKS } from '../sentences/marks';
import type { Part, Sentence } from '../sentences/sentence';
import { calendarSentences } from './calendar';
import { asSchool } from './policy-draft';

/** One thing that a school can say, with the sentences that say it. */
export interface PolicyPart extends Part {
  matter: PolicyArea;
}

const STAND: { value: Enforcement; text: string }[] = [
  { value: 'open', text: 'are free in this' },
  { value: 'begins', text: 'begin with this and may depart from it' },
  { value: 'fixed', text: 'go by this and may not depart from it' },
];

/** How far the books of the school are bound in a matter. */
function standOf(draft: Draft, matter: PolicyArea): Sentence {
  const school = asSchool(draft);
  return {
    id: `stand ${matter}`,
    about: [`/stands/${matter}`],
    pieces: [
      'Books',
      {
        kind: 'choice',
        label: 'How far books are bound',
        value: school.stands[matter],
        choices: STAND,
        set: (value) => ({ ...school, stands: { ...school.stands, [matter]: value as Enforcement } }) as Draft,
      },
      '.',
    ],
  };
}

/** What a school says of a matter is what the part of a book says of it, of any book. */
const from = (part: Part, keep: (s: Sentence) => boolean) => (draft: Draft) =>
  part.sentences(draft).filter(keep).map(ofAnyBook);

function ofAnyBook({ heading, ...s }: Sentence): Sentence {
  const pieces = s.pieces.map((p) => (p === 'The book goes by' ? 'A book goes by' : p));
  // A heading tells several rules apart; over a single one it would say the title again.
  return { ...s, pieces, ...(heading?.includes('“') ? { heading } : {}) };
}

const of =
  (...matters: PolicyArea[]) =>
  (s: Sentence): boolean =>
    s.shared !== undefined && matters.includes(s.shared.matter);

function part(
  matter: PolicyArea,
  title: string,
  lead: string | ((draft: Draft) => string),
  message: (draft: Draft) => Sentence[],
): PolicyPart {
  return {
    id: matter,
    matter,
    title,
    lead: typeof lead === 'string' ? () => lead : lead,
    sentences: (draft) => [
      standOf(draft, matter),
      // Where books are free there is nothing that the school says.
      ...(asSchool(draft).stands[matter] === 'open' ? [] : message(draft)),
    ],
  };
}

/** The parts of the school's page in their order. `today`: a date of the school, as YYYY-MM-DD. */
export const policyParts = (today: string): readonly PolicyPart[] => [
  part('blank', 'Blanks', 'What counts where nothing came.', from(BLANKS, of('blank'))),
  part(
    'late',
    'Lateness',
    'What late work loses. Which days are not counted is said under Closed days.',
    from(LATENESS, of('late')),
  ),
  part(
    'calendar',
    'Closed days',
    (draft) =>
      `Days that no rule for lateness counts, in each book’s own time zone.${
        asSchool(draft).stands.calendar === 'begins' ? ' Books may have days of their own besides.' : ''
      }`,
    (draft) => calendarSentences(draft, today),
  ),
  part(
    'allowance',
    'Late allowances',
    'A day’s grace of a student’s own, to be spent.',
    from(LATENESS, of('allowance')),
  ),
  part(
    'marks',
    'Named marks',
    'Words in place of points, each worth its percent of them.',
    from(MARKS, (s) => s.id === 'marks new' || of('marks')(s)),
  ),
  part('rounding', 'Rounding', 'Only the final percentage is rounded, once.', from(ROUNDING, of('rounding'))),
  part('letters', 'Letters', 'Where each letter begins.', from(LETTERS, of('letters'))),
];
