import { isMarkedInPart } from '@core/rubric/given-levels';
import { cellKeyOf } from '../../kernel/cells/cell';
import type { CellRow } from '../../kernel/cells/sql';
import type { Db } from '../../kernel/database';
import { assessmentsWithRubric } from '../books';
import { marksOf } from './levels';
import { criterionMarksOf, type CriterionMarkRow } from './sql/criterion-marks';
import { rubricOf } from './sql/rubrics';
import { workInHand, worksOf } from './works';

/** Of these cells of a book those whose work in hand is marked in part, by `cellKeyOf`. */
export async function markedInPart(
  db: Db,
  school: string,
  book: string,
  cells: readonly CellRow[],
): Promise<Set<string>> {
  const found = new Set<string>();
  for (const assessment of await assessmentsWithRubric(db, school, book)) {
    const p = { school, book, assessment };
    const { rubric, version } = await rubricOf(db, p);
    if (rubric === null) continue;
    const given = new Map<string, CriterionMarkRow[]>();
    for (const r of await criterionMarksOf(db, p)) {
      if (r.rubric !== version) continue;
      const rows = given.get(`${r.enrolment} ${r.work}`);
      if (rows) rows.push(r);
      else given.set(`${r.enrolment} ${r.work}`, [r]);
    }
    const works = await worksOf(db, p);
    for (const c of cells) {
      if (c.assessment !== assessment) continue;
      const work = workInHand(works(c.enrolment), c.content.attempts?.length ?? 0);
      if (isMarkedInPart(rubric, marksOf(given.get(`${c.enrolment} ${work}`) ?? []))) found.add(cellKeyOf(c));
    }
  }
  return found;
}
