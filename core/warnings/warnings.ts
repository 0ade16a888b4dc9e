import type { BookDocument } from '../book/document';
import { compileRules } from '../calculation/compiled/compile';
import { groupWarnings } from './group-warnings';
import { bankWarnings, lateWarnings } from './late-warnings';
import { scaleWarnings } from './scale-warnings';
import { variantWarnings } from './policy-warnings';
import { studentWarnings } from './student-warnings';

/** Rules that together do what a teacher would not expect: where (JSON pointer into the document) and a sentence. */
export interface Warning {
  kind:
    | 'late-below-missing'
    | 'drop-hangs-on-points'
    | 'score-may-lower'
    | 'only-extra-credit'
    | 'drops-too-many'
    | 'weights-all-zero'
    | 'weights-not-100'
    | 'rounds-across-band'
    | 'hurdle-never-missed'
    | 'hurdle-never-met'
    | 'extension-shorter-than-extra-time'
    | 'drop-void'
    | 'share-hangs-on-others'
    | 'keeps-best-of-unlike'
    | 'bonus-beside-few'
    | 'threshold-above-fraction'
    | 'cap-rounds-across-band'
    | 'bank-beside-allowances'
    | 'count-of-work'
    | 'order-without-dates';
  at: string;
  says: string;
}

/** All warnings of a checked book, found from the document alone, in the order of the document's parts. */
export function warningsOf(book: BookDocument): Warning[] {
  const compiled = compileRules({ ...book, students: [], entries: [] });
  return [
    ...lateWarnings(compiled),
    ...scaleWarnings(compiled),
    ...groupWarnings(book, compiled),
    ...variantWarnings(compiled),
    ...bankWarnings(book, compiled),
    ...studentWarnings(book, compiled),
  ];
}
