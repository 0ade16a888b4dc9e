import type { BookDocument } from '../book/document';
import { compileRules } from '../calculation/compile';
import { groupWarnings } from './group-warnings';
import { lateWarnings } from './late-warnings';
import { scaleWarnings } from './scale-warnings';
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
    | 'drop-void';
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
    ...studentWarnings(book, compiled),
  ];
}
