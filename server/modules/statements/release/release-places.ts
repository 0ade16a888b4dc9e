import { areNamesHidden } from '@core/work/hidden-names';
import { counted } from '@core/words/count';
import type { CellRow } from '../../../kernel/cells/sql';
import type { Db } from '../../../kernel/database';
import { groupBy } from '../../../kernel/group-by';
import type { LineContent, Who } from '../../../kernel/journal/sql/lines';
import { Refusal } from '../../../kernel/refusal';
import { assemble, type AssembledBook, type AssessmentRow } from '../../books';
import { showFirst } from '../../hidden-names';

/** One assessment that is released or withdrawn, and the students whom it is about. */
export interface ReleasePlace {
  assessment: AssessmentRow;
  enrolments: string[];
  /** What everybody has on it, by student. */
  cells: ReadonlyMap<string, CellRow>;
}

/** The book and what is asked for of it; refuses what is not in it, what is named twice, what cannot be read. */
export async function beginAt(
  db: Db,
  who: Who,
  asked: readonly { assessment: string; enrolments: string[] | null }[],
): Promise<{ book: AssembledBook; places: ReleasePlace[] }> {
  if (new Set(asked.map((a) => a.assessment)).size < asked.length)
    throw new Refusal('bad-request', 'An assessment is named twice. Nothing was changed.');
  const book = await assemble(db, who.school, who.book, 'whole');
  const here = new Set(book.students.map((s) => s.id));
  const cells = groupBy(book.cells, (c) => c.assessment);
  const places = asked.map((place): ReleasePlace => {
    const assessment = book.assessments.find((a) => a.id === place.assessment);
    if (!assessment) throw new Refusal('not-found', 'There is no such assessment in this book.');
    if (areNamesHidden(assessment.work)) throw showFirst([assessment.title], 'it can be released');
    const enrolments = [...new Set(place.enrolments ?? here)];
    requireReadable(book, assessment, enrolments, here);
    return { assessment, enrolments, cells: new Map((cells.get(assessment.id) ?? []).map((c) => [c.enrolment, c])) };
  });
  return { book, places };
}

function requireReadable(
  book: AssembledBook,
  assessment: AssessmentRow,
  enrolments: readonly string[],
  here: ReadonlySet<string>,
): void {
  const strangers = enrolments.filter((e) => !here.has(e));
  if (strangers.length > 0)
    throw new Refusal(
      'bad-request',
      `${strangers.length} of these students are not in this book. Nothing was changed.`,
    );
  if (enrolments.length === 0) throw new Refusal('bad-request', 'There is nobody in this book yet.');
  const faulty = book.faulty.filter((f) => f.assessment === assessment.id && enrolments.includes(f.enrolment));
  if (faulty.length > 0)
    throw new Refusal(
      'bad-request',
      `${counted(faulty.length, 'cell', 'cells')} of ${assessment.title} cannot be read (${faulty[0]!.fault}). The ledger shows which; put them right first. Nothing was released.`,
    );
}

export const titlesIn = (places: readonly ReleasePlace[]): string =>
  places.length === 1 ? places[0]!.assessment.title : counted(places.length, 'assessment');

export const peopleOf = (lines: readonly LineContent[]): number => new Set(lines.map((l) => l.enrolment)).size;
