import { canonical } from '@core/book/canonical';
import { EXCEPTION_KINDS, withoutException, type CellException, type ExceptionKind } from '@core/book/exceptions';
import type pg from 'pg';
import type { BookTransaction } from '../../kernel/book-transaction';
import { cellKeyOf, cellLine, nextCell } from '../../kernel/cells/cell';
import { writeCells } from '../../kernel/cells/sql';
import { newId } from '../../kernel/database';
import type { JobData, JobKind } from '../../kernel/jobs';
import { type LineContent, type Who } from '../../kernel/journal/sql/lines';
import { type Author, commitBook, momentOf, studentsOf, systemAuthor, writeEnrolments, writeOverride } from '../books';
import { currentCells } from './change-cells';
import { endOf, enrolText, fromOf } from './exceptions';
import { overrideText, overrideNow } from './overrides';
import { sincesOf, WHOLE, booksWithEnded, takeEnded } from './sql/exception-ends';

/** Exceptions of one book whose end has come, and who had set them. */
export type EndedExceptions = JobData & { book: string; setBy: string };

/** Ends exceptions whose end has come, in the name of who had set them: a job for each book, so that none stops another. */
export const exceptionEndsJob: JobKind<EndedExceptions> = {
  name: 'exception-ends',
  attempts: 8,
  firstPauseSeconds: 5,
  timeLimitSeconds: 120,
  keyOf: (of) => `${of.school} ${of.book} ${of.setBy}`,
  sweep: { everySeconds: 15, due: booksWithEnded },
  run: async ({ pool }, of) => {
    await endExceptions(pool, of);
  },
};

/** Gives how many were ended. */
export function endExceptions(pool: pg.Pool, { school, book, setBy }: EndedExceptions): Promise<number> {
  return endIn(pool, systemAuthor(school, book, setBy, 'exceptions end'));
}

function endIn(pool: pg.Pool, who: Author): Promise<number> {
  return commitBook(pool, who, newId('end'), async (db) => {
    const { school, book } = who;
    const taken = (await takeEnded(db, school, book, who.person, await momentOf(db, school))).filter((e) =>
      EXCEPTION_KINDS.includes(e.kind),
    );
    const places = taken.map((e) => ({
      enrolment: e.enrolment,
      assessment: e.place === WHOLE ? null : e.place,
      ...fromOf(e.kind),
    }));
    const since = new Map((await sincesOf(db, school, book, places)).map((s) => [s.i, s]));
    const over = taken.filter((e, i) => endOf(e, since.get(i)) !== null);
    const cells = over.filter((e) => e.place !== WHOLE);
    const now = await currentCells(
      db,
      school,
      book,
      cells.map((e) => ({ assessment: e.place, enrolment: e.enrolment })),
    );
    const lines: LineContent[] = [];
    const changed = new Map<string, ReturnType<typeof nextCell>>();
    for (const e of cells) {
      const key = cellKeyOf({ assessment: e.place, enrolment: e.enrolment });
      const was = now.get(key)!;
      const content = withoutException(was.content, e.kind as CellException);
      // Ended by somebody before its day: nothing is left to end.
      if (canonical(content) === canonical(was.content)) continue;
      const is = nextCell(was, { kind: 'put', entry: content });
      now.set(key, is);
      changed.set(key, is);
      lines.push(cellLine(was, is));
    }
    for (const e of over.filter((x) => x.place === WHOLE)) {
      const line = await endWhole(db, who, e);
      if (line) lines.push(line);
    }
    if (changed.size > 0) await writeCells(db, school, book, [...changed.values()]);
    return { lines, set: { kind: 'exception', title: 'Ended by their day' }, answer: () => lines.length };
  });
}

async function endWhole(
  db: BookTransaction,
  who: Who,
  e: { enrolment: string; kind: ExceptionKind },
): Promise<LineContent | null> {
  const base = { assessment: null, enrolment: e.enrolment };
  if (e.kind === 'override') {
    const was = await overrideNow(db, who, e.enrolment);
    const is = { ...was, version: was.version + 1, percent: null, letter: null };
    if (was.percent === null && was.letter === null) return null;
    await writeOverride(db, who.school, who.book, is);
    return { ...base, kind: 'override', was: overrideText(was), becomes: overrideText(is) };
  }
  const was = (await studentsOf(db, who.school, who.book, true)).find((s) => s.id === e.enrolment);
  if (!was || was.extraTimeHours === 0) return null;
  const is = { ...was, extraTimeHours: 0 };
  await writeEnrolments(db, who.school, who.book, [is]);
  return { ...base, kind: 'enrol', was: enrolText(was), becomes: enrolText(is) };
}
