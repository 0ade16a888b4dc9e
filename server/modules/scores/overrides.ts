import { canonical } from '@core/book/canonical';
import type { Static } from '@contract/wire';
import type pg from 'pg';
import { studentsOf, overridesOf, writeOverride, type OverrideRow, findBook } from '../books';
import { transaction, type Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { WHOLE, putEnds } from './sql/exception-ends';
import { type Who, lockBook, operationDone, reserveJournalNumbers, writeLines } from '../../kernel/journal/sql/lines';
import type { OverrideWrite } from '@contract/scores';
import { requireReason } from './exception-reasons';

/** The override of one student's final grade as the journal writes it. */
export const overrideText = (o: Pick<OverrideRow, 'percent' | 'letter'>): string =>
  canonical({
    ...(o.percent === null ? {} : { percent: o.percent }),
    ...(o.letter === null ? {} : { letter: o.letter }),
  });

export async function overrideNow(db: Db, who: Who, enrolment: string): Promise<OverrideRow> {
  const found = (await overridesOf(db, who.school, who.book)).find((o) => o.enrolment === enrolment);
  return found ?? { enrolment, version: 0, percent: null, letter: null };
}

/** Sets a final grade in the place of the one worked out, or ends that. */
export function setOverride(
  pool: pg.Pool,
  who: Who,
  enrolment: string,
  write: Static<typeof OverrideWrite>,
): Promise<{ version: number; seq: number }> {
  return transaction(pool, async (db) => {
    const seq = await lockBook(db, who.school, who.book);
    const was = await overrideNow(db, who, enrolment);
    if ((await operationDone(db, who.school, who.book, write.operation)) !== null) return { version: was.version, seq };
    if (!(await studentsOf(db, who.school, who.book)).some((s) => s.id === enrolment))
      throw new Refusal('not-found', 'There is no such student in this book.');
    if (was.version !== write.version)
      throw new Refusal(
        'stale',
        'Somebody else changed this override after you saw it. Nothing was changed; look again.',
        {
          now: was,
        },
      );
    const makes = write.percent !== null || write.letter !== null;
    requireReason((await findBook(db, who.school, who.book))!, makes, write.reason);
    const is = { enrolment, version: was.version + 1, percent: write.percent, letter: write.letter };
    await writeOverride(db, who.school, who.book, is);
    const line = {
      operation: write.operation,
      kind: 'override' as const,
      assessment: null,
      enrolment,
      was: overrideText(was),
      becomes: overrideText(is),
    };
    const first = await reserveJournalNumbers(db, who.school, who.book, 1);
    await writeLines(db, who, first, [line], { reason: write.reason });
    await putEnds(db, who, [{ enrolment, place: WHOLE }], 'override', makes ? write.until : null);
    return { version: is.version, seq: first };
  });
}
