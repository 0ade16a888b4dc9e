import { areNamesHidden } from '@core/work/hidden-names';
import type { NewAssessment } from '@contract/assessments';
import type { WorkSettings } from '@contract/work/submissions';
import { type Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { type Who } from '../../kernel/journal/sql/lines';
import { type AssessmentRow, type BookRow } from '../books';
import { isAnythingReleased } from './sql/assessments';

/** How work is handed in, in the words of its maker; where they say nothing of names, the book does, or the school. */
export function withNamesHidden({ takesWork, work = {} }: NewAssessment, row: BookRow): WorkSettings {
  const hides = takesWork && work.namesHidden === undefined && (row.hidesNames ?? row.schoolHidesNames);
  return hides ? { ...work, namesHidden: true } : work;
}

/** Refuses hidden names where no work is handed in through the application: there is nothing that could be marked without. */
export function requireNamesFit({ title, takesWork, work }: Pick<AssessmentRow, 'title' | 'takesWork' | 'work'>): void {
  if (!takesWork && areNamesHidden(work))
    throw new Refusal(
      'bad-request',
      `Names are hidden only where work is handed in here, and for ${title} nothing is. Nothing was changed.`,
    );
}

/** Refuses to hide names that are known: students have read what they got. */
export async function requireNamesUnknown(
  db: Db,
  { school, book }: Who,
  was: AssessmentRow,
  is: AssessmentRow,
): Promise<void> {
  requireNamesFit(is);
  const hides = areNamesHidden(is.work) && !areNamesHidden(was.work);
  if (hides && (await isAnythingReleased(db, school, book, is.id)))
    throw new Refusal(
      'bad-request',
      `Students have read what they got for ${was.title}, so whose work is whose is known: names are hidden before anything is released. Nothing was changed.`,
    );
}
