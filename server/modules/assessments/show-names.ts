import type pg from 'pg';
import { areNamesHidden } from '@core/work/hidden-names';
import { Refusal } from '../../kernel/refusal';
import { assessmentsOf, assessmentText, commitBook, type Author } from '../books';
import { updateAssessment } from './sql/assessments';

/** Says whose work is whose from now on, to everybody who reads the book: one line. Where it is said already, nothing is done. */
export function showNames(pool: pg.Pool, who: Author, id: string, operation: string): Promise<{ done: true }> {
  return commitBook(pool, who, operation, async (db) => {
    const was = (await assessmentsOf(db, who.school, who.book, true)).find((a) => a.id === id);
    if (!was) throw new Refusal('not-found', 'There is no such assessment in this book.');
    const answer = (): { done: true } => ({ done: true });
    if (!areNamesHidden(was.work)) return { lines: [], answer };
    const is = { ...was, work: { ...was.work, namesShown: true }, version: was.version + 1 };
    await updateAssessment(db, who.school, who.book, is);
    const texts = { was: assessmentText(was), becomes: assessmentText(is) };
    return {
      lines: [{ kind: 'assessment', assessment: id, enrolment: null, ...texts }],
      set: { kind: 'change', title: was.title },
      answer,
    };
  });
}
