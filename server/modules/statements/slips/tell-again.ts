import type pg from 'pg';
import type { TellAgainWrite, ToldAgain } from '@contract/slips';
import { Refusal } from '../../../kernel/refusal';
import { assessmentsNamed, commitBook, type Author } from '../../books';
import { slipPath, tellStudents } from '../../notices';
import { deliveriesOf } from '../sql/slip-traces';

/** Tells those once more who have something that came back and have not opened it; nobody else. */
export function tellAgain(pool: pg.Pool, who: Author, assessment: string, write: TellAgainWrite): Promise<ToldAgain> {
  return commitBook(pool, who, write.operation, async (db) => {
    const { school, book } = who;
    const [found] = await assessmentsNamed(db, school, book, [assessment]);
    if (!found) throw new Refusal('not-found', 'There is no such assessment in this book.');
    const asked = new Set(write.enrolments);
    const unopened = (await deliveriesOf(db, { school, book, assessment }, slipPath(book, assessment))).flatMap((d) =>
      asked.has(d.enrolment) && d.opened === null ? [d.enrolment] : [],
    );
    if (unopened.length === 0)
      throw new Refusal('bad-request', 'None of these students has something here that they have not opened.');
    await tellStudents(db, school, book, unopened, {
      text: `${found.title} came back to you, and you have not opened it yet.`,
      slip: assessment,
    });
    return { lines: [], answer: () => ({ people: unopened.length }) };
  });
}
