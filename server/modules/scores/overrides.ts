import { canonical } from '@core/book/canonical';
import type { Static } from '@contract/wire';
import type pg from 'pg';
import { type Author, commitBook, studentsOf, overridesOf, writeOverride, type OverrideRow, findBook } from '../books';
import { type Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { WHOLE, putEnds } from './sql/exception-ends';
import { type Who } from '../../kernel/journal/sql/lines';
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
  who: Author,
  enrolment: string,
  write: Static<typeof OverrideWrite>,
): Promise<{ version: number; seq: number }> {
  return commitBook(pool, who, write.operation, async (db) => {
    const was = await overrideNow(db, who, enrolment);
    if (!(await studentsOf(db, who.school, who.book)).some((s) => s.id === enrolment))
      throw new Refusal('not-found', 'There is no such student in this book.');
    if (was.version !== write.version)
      throw new Refusal(
        'stale',
        'Somebody else changed this override after you saw it. Nothing was changed; look again.',
        { now: was },
      );
    const makes = write.percent !== null || write.letter !== null;
    requireReason((await findBook(db, who.school, who.book))!, makes, write.reason);
    const is = { enrolment, version: was.version + 1, percent: write.percent, letter: write.letter };
    await writeOverride(db, who.school, who.book, is);
    return {
      lines: [{ kind: 'override', assessment: null, enrolment, was: overrideText(was), becomes: overrideText(is) }],
      reason: write.reason,
      after: () => putEnds(db, who, [{ enrolment, place: WHOLE }], 'override', makes ? write.until : null),
      answer: ({ first }) => ({ version: is.version, seq: first }),
    };
  });
}
