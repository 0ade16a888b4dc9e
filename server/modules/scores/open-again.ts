import { moment } from '@core/working/wording';
import type { ChangesWrite } from '@contract/scores';
import type { BookTransaction } from '../../kernel/book-transaction';
import { Refusal } from '../../kernel/refusal';
import { assessmentsNamed, findBook, momentOf, type Author } from '../books';
import { tellStudents } from '../notices';
import { insertReopenings } from './sql/reopenings';

/** Gives assessments back to students: once more until the date that each cell is given, and each is told. */
export async function openAgain(db: BookTransaction, who: Author, write: ChangesWrite): Promise<void> {
  const { school, book } = who;
  const now = Date.parse(await momentOf(db, school));
  const given = write.cells.map(({ assessment, enrolment, change }) => {
    const until = change.kind === 'dates' || change.kind === 'due' ? change.dueAt : null;
    if (until === null || Date.parse(until) <= now)
      throw new Refusal('bad-request', 'Opened again is until a day that is to come. Nothing was changed.');
    return { assessment, enrolment, until };
  });
  const comment = write.tell?.trim() ?? '';
  await insertReopenings(db, who, given, { same: write.again === 'same', comment });
  const zone = (await findBook(db, school, book))!.timeZone;
  const titles = new Map(
    (await assessmentsNamed(db, school, book, [...new Set(given.map((g) => g.assessment))])).map((a) => [
      a.id,
      a.title,
    ]),
  );
  const together = new Map<string, { assessment: string; until: string; enrolments: string[] }>();
  for (const { assessment, until, enrolment } of given) {
    const key = `${assessment} ${until}`;
    const group = together.get(key) ?? { assessment, until, enrolments: [] };
    group.enrolments.push(enrolment);
    together.set(key, group);
  }
  for (const { assessment, until, enrolments } of together.values()) {
    const words = `${titles.get(assessment)} is open again until ${moment(zone, Date.parse(until))}.`;
    await tellStudents(db, school, book, enrolments, {
      text: comment === '' ? words : `${words} ${comment}`,
      assessment,
      writtenBy: who.person,
    });
  }
}
