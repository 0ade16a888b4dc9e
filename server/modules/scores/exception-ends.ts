import { fromOf } from './exceptions';
import { canonical } from '@core/book/canonical';
import { withoutException, type CellException, type ExceptionKind } from '@core/book/exceptions';
import type pg from 'pg';
import { studentsOf, writeEnrolments, writeOverride, momentOf } from '../books';
import { insertBatch } from '../../kernel/journal/sql/batches';
import { newId, transaction, type Db } from '../../kernel/database';
import { writeCells } from '../../kernel/cells/sql';
import { cellKeyOf, cellLine, nextCell, operationOf } from '../../kernel/cells/cell';
import { sincesOf, WHOLE, booksWithEnded, takeEnded } from './sql/exception-ends';
import {
  type Who,
  lockBook,
  reserveJournalNumbers,
  writeLines,
  type JournalLine,
} from '../../kernel/journal/sql/lines';
import { currentCells } from './change-cells';
import { overrideText, overrideNow } from './overrides';
import { endOf, enrolText } from './exceptions';

/** Ends every exception whose end has come, in the name of who had set it. Gives how many. */
export async function endExceptions(pool: pg.Pool): Promise<number> {
  let ended = 0;
  for (const { school, book } of await booksWithEnded(pool))
    ended += await transaction(pool, (db) => endIn(db, school, book));
  return ended;
}

async function endIn(db: Db, school: string, book: string): Promise<number> {
  await lockBook(db, school, book);
  const taken = await takeEnded(db, school, book, await momentOf(db, school));
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
  let ended = 0;
  for (const setBy of new Set(over.map((e) => e.setBy))) {
    const who = { school, book, person: setBy };
    const operation = newId('end');
    const lines: JournalLine[] = [];
    const changed = new Map<string, ReturnType<typeof nextCell>>();
    for (const e of cells.filter((c) => c.setBy === setBy)) {
      const key = cellKeyOf({ assessment: e.place, enrolment: e.enrolment });
      const was = now.get(key)!;
      const content = withoutException(was.content, e.kind as CellException);
      // Ended by somebody before its day: nothing is left to end.
      if (canonical(content) === canonical(was.content)) continue;
      const is = nextCell(was, { kind: 'put', entry: content });
      now.set(key, is);
      changed.set(key, is);
      lines.push(cellLine(operationOf(operation, lines.length), was, is));
    }
    for (const e of over.filter((x) => x.setBy === setBy && x.place === WHOLE)) {
      const line = await endWhole(db, who, e, operationOf(operation, lines.length));
      if (line) lines.push(line);
    }
    if (lines.length === 0) continue;
    const batch = newId('b');
    await insertBatch(db, who, { id: batch, kind: 'exception', title: 'Ended by their day', cells: lines.length });
    await writeCells(db, school, book, [...changed.values()]);
    const first = await reserveJournalNumbers(db, school, book, lines.length);
    await writeLines(db, who, first, lines, { batch });
    ended += lines.length;
  }
  return ended;
}

async function endWhole(
  db: Db,
  who: Who,
  e: { enrolment: string; kind: ExceptionKind },
  operation: string,
): Promise<JournalLine | null> {
  const base = { operation, assessment: null, enrolment: e.enrolment };
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
