import { assembleSkeleton } from '@core/book/assemble';
import { groupsOf } from '@core/book/document';
import { studentDocument } from '@core/book/student-document';
import type { OwnDocument } from '@contract/statements';
import { readCells } from '../../kernel/cells/sql';
import type { Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { assessmentsOf, findBook, momentOf, rulesAt, studentsOf, toDocumentStudent, toPlacedItem } from '../books';
import { releasedTo, skeletonsOf } from './sql/releases';
import { titleOf, titlesOf, withNewItems } from './student-statement';

/**
 * A student's document (contract, section 11) as it is now, for asking what would be needed: made from what is released
 * to them and what they are told at once. Null where they see no standing.
 */
export async function ownDocument(
  db: Db,
  { school, book, enrolment }: { school: string; book: string; enrolment: string },
): Promise<OwnDocument> {
  const row = await findBook(db, school, book);
  if (!row) throw new Refusal('not-found', 'You have no such book.');
  const had = row.showsStanding ? (await skeletonsOf(db, school, book, [enrolment])).get(enrolment) : undefined;
  if (!had) return { document: null, titles: {} };
  const assessments = await assessmentsOf(db, school, book);
  const rules = await rulesAt(db, school, book, row.rulesVersion);
  const today = assembleSkeleton(row.timeZone, rules, assessments.map(toPlacedItem));
  const visible = new Set(assessments.filter((a) => a.shown).map((a) => a.id));
  const skeleton = withNewItems(had.skeleton, today, visible);
  const student = (await studentsOf(db, school, book, true)).find((s) => s.id === enrolment)!;
  const released = await releasedTo(db, school, book, [enrolment]);
  const live = await readCells(db, school, book, { enrolments: [enrolment] });
  const document = studentDocument({
    student: toDocumentStudent(student),
    asOf: await momentOf(db, school),
    skeleton,
    visible,
    takesWork: new Set(assessments.filter((a) => a.takesWork).map((a) => a.id)),
    released: new Map(released.map((r) => [r.assessment, r.entry])),
    live: new Map(live.map((c) => [c.assessment, { content: c.content, handedIn: c.handedIn }])),
  });
  const shown = [...titlesOf(assessments)].filter(([id]) => visible.has(id));
  const categories = groupsOf(skeleton.tree).map((g) => [g.id, titleOf(g)]);
  return { document, titles: Object.fromEntries([...categories, ...shown]) as Record<string, string> };
}
