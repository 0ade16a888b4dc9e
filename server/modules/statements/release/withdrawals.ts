import type pg from 'pg';
import { canonical } from '@core/book/canonical';
import { RELEASE_PARTS } from '@contract/slips';
import type { Released, WithdrawWrite } from '@contract/statements';
import { cellKeyOf } from '../../../kernel/cells/cell';
import type { LineContent } from '../../../kernel/journal/sql/lines';
import { Refusal } from '../../../kernel/refusal';
import { type Author, commitBook } from '../../books';
import { feedbackPartsOf, withdrawParts } from './release-parts';
import { beginAt, peopleOf, titlesIn } from './release-places';
import { deleteReleased, releasedTo } from '../sql/releases';
import { tellSlips } from '../sql/slip-traces';
import { workOutStatements, writeStatements } from '../student-statement';

/** Hides assessments again at once, or parts of them. Those who never had them are left alone. */
export function withdraw(pool: pg.Pool, who: Author, write: WithdrawWrite): Promise<Released> {
  return commitBook(pool, who, write.operation, async (db) => {
    const { book, places } = await beginAt(db, who, [write, ...(write.also ?? [])]);
    const parts = write.parts ?? RELEASE_PARTS;
    const at = book.document.asOf;
    const lines: LineContent[] = [];
    if (parts.includes('score')) {
      const everybody = [...new Set(places.flatMap((p) => p.enrolments))];
      const had = new Map(
        (await releasedTo(db, who.school, who.book, everybody)).map((r) => [cellKeyOf(r), canonical(r.entry)]),
      );
      for (const { assessment, enrolments } of places)
        for (const enrolment of await deleteReleased(db, who.school, who.book, assessment.id, enrolments, at))
          lines.push({
            kind: 'withdraw',
            assessment: assessment.id,
            enrolment,
            was: had.get(cellKeyOf({ assessment: assessment.id, enrolment }))!,
            becomes: null,
          });
      const gone = [...new Set(lines.map((l) => l.enrolment!))];
      await writeStatements(db, who, at, await workOutStatements(db, who, book, gone, false));
    }
    for (const { assessment, enrolments } of places) {
      const of = { assessment: assessment.id, at, enrolments };
      lines.push(...(await withdrawParts(db, who, of, feedbackPartsOf(parts))).lines);
      if (lines.some((l) => l.assessment === assessment.id))
        await tellSlips(db, { ...who, assessment: assessment.id }, at);
    }
    if (lines.length === 0)
      throw new Refusal(
        'bad-request',
        `${titlesIn(places)} ${places.length === 1 ? 'is' : 'are'} not released to any of these students, so there was nothing to withdraw.`,
      );
    return { lines, answer: ({ last }) => ({ people: peopleOf(lines), seq: last }) };
  });
}
