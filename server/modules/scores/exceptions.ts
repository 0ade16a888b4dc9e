import { canonical } from '@core/book/canonical';
import type { CellChange, EntryContent } from '@core/book/change';
import {
  exceptionsIn,
  makesException,
  withoutException,
  type CellException,
  type ExceptionKind,
} from '@core/book/exceptions';
import type { Static } from '@contract/wire';
import type pg from 'pg';
import {
  assessmentsOf,
  studentsOf,
  writeEnrolments,
  type StudentRow,
  overridesOf,
  writeOverride,
  type OverrideRow,
  momentOf,
  findBook,
  type BookRow,
} from '../books';
import { insertBatch } from '../../kernel/journal/sql/batches';
import { newId, transaction, type Db } from '../../kernel/database';
import { readCells, writeCells } from '../../kernel/cells/sql';
import { personName } from '../accounts';
import { cellKeyOf, cellLine, nextCell, operationOf, type WantedCell } from '../../kernel/cells/cell';
import { Refusal } from '../../kernel/refusal';
import {
  sincesOf,
  endsOf,
  WHOLE,
  type ExceptionEnd,
  type Since,
  putEnds,
  booksWithEnded,
  takeEnded,
} from './sql/exception-ends';
import {
  type Who,
  lockBook,
  operationDone,
  reserveJournalNumbers,
  writeLines,
  type JournalLine,
} from '../../kernel/journal/sql/lines';
import { currentCells } from './change-cells';
import type { ExceptionLine, ExceptionList, OverrideWrite } from '@contract/scores';

/** Which part of a cell's content a kind of exception is in; the journal is asked when it last changed. */
const PARTS: Record<CellException, string[]> = {
  excused: ['state'],
  missing: ['state'],
  awaiting: ['state'],
  extension: ['dueAt', 'closesAt'],
  allowance: ['lateAllowances'],
  waiver: ['onTime'],
  set: ['set'],
  protected: ['protected'],
};

function saidOf(kind: CellException, content: EntryContent): Partial<ExceptionLine> {
  if (kind === 'extension')
    return {
      ...(content.dueAt ? { dueAt: content.dueAt } : {}),
      ...(content.closesAt ? { closesAt: content.closesAt } : {}),
    };
  if (kind === 'allowance') return { number: content.lateAllowances! };
  if (kind === 'set') return { number: content.set! };
  return {};
}

/** Every exception of a book, with since when, by whom and why. */
export async function exceptionsOf(db: Db, school: string, book: string): Promise<ExceptionList> {
  const row = (await findBook(db, school, book))!;
  const students = await studentsOf(db, school, book);
  const here = new Set(students.map((s) => s.id));
  const items = new Set((await assessmentsOf(db, school, book)).map((a) => a.id));
  const overrides = (await overridesOf(db, school, book)).filter((o) => here.has(o.enrolment));
  const found: (Omit<ExceptionLine, 'since' | 'by' | 'reason' | 'until'> & {
    from: { kind: 'cell' | 'override' | 'enrol'; parts: string[] };
  })[] = [];
  for (const c of await readCells(db, school, book))
    if (here.has(c.enrolment) && items.has(c.assessment))
      for (const kind of exceptionsIn(c.content))
        found.push({
          enrolment: c.enrolment,
          assessment: c.assessment,
          kind,
          ...saidOf(kind, c.content),
          from: fromOf(kind),
        });
  for (const s of students)
    if (s.extraTimeHours > 0)
      found.push({
        enrolment: s.id,
        assessment: null,
        kind: 'extra-time',
        number: s.extraTimeHours,
        from: fromOf('extra-time'),
      });
  for (const o of overrides)
    if (o.percent !== null || o.letter !== null)
      found.push({
        enrolment: o.enrolment,
        assessment: null,
        kind: 'override',
        ...(o.percent === null ? {} : { number: o.percent }),
        ...(o.letter === null ? {} : { letter: o.letter }),
        from: fromOf('override'),
      });
  const places = found.map((f) => ({ enrolment: f.enrolment, assessment: f.assessment, ...f.from }));
  const since = new Map((await sincesOf(db, school, book, places)).map((s) => [s.i, s]));
  const until = new Map((await endsOf(db, school, book)).map((e) => [`${e.enrolment} ${e.place} ${e.kind}`, e]));
  return {
    wantsReasons: row.wantsReasons,
    overrides: overrides.map(({ enrolment, version }) => ({ enrolment, version })),
    lines: found.map(({ from: _from, ...f }, i) => {
      const s = since.get(i);
      return {
        ...f,
        since: s?.at ?? null,
        by: s ? personName({ ...s, role: 'staff' }) : '',
        reason: s?.reason ?? '',
        until: endOf(until.get(`${f.enrolment} ${f.assessment ?? WHOLE} ${f.kind}`), s),
      };
    }),
  };
}

/** The end of an exception, where it was said for this one and not for one that was ended before. */
const endOf = (end: ExceptionEnd | undefined, since: Since | undefined): string | null =>
  end && (since === undefined || end.setAt >= since.at) ? end.until : null;

/** What the journal calls the place of an exception. */
const fromOf = (kind: ExceptionKind): { kind: 'cell' | 'override' | 'enrol'; parts: string[] } =>
  kind === 'extra-time'
    ? { kind: 'enrol', parts: ['extraTimeHours'] }
    : kind === 'override'
      ? { kind: 'override', parts: ['percent', 'letter'] }
      : { kind: 'cell', parts: PARTS[kind] };

/** Refuses an exception without a reason where the school wants one. */
export function requireReason(row: Pick<BookRow, 'wantsReasons'>, makes: boolean, reason: string | undefined): void {
  if (makes && row.wantsReasons && !reason?.trim())
    throw new Refusal(
      'bad-request',
      'The school wants a reason for every exception. In a cell it follows a dash, as in “excused - ill”. Nothing was changed.',
      { errors: [{ pointer: '/reason', detail: 'the school wants a reason' }] },
    );
}

/** The same for changes of cells, which are looked at under the book's lock. */
export async function requireReasonFor(
  db: Db,
  who: Who,
  wanted: readonly WantedCell[],
  reason: string | undefined,
): Promise<void> {
  const row = (await findBook(db, who.school, who.book))!;
  if (!row.wantsReasons || reason?.trim()) return;
  const now = await currentCells(db, who.school, who.book, [...wanted]);
  requireReason(
    row,
    wanted.some((w) => makesException(now.get(cellKeyOf(w))!.content, w.change)),
    reason,
  );
}

/** Changes that may make an exception: the fast way of scores leaves them to the slower one. */
export const mayExcept = (change: CellChange): boolean =>
  !['score', 'mark', 'clear', 'received', 'late', 'late-at'].includes(change.kind);

/** The override of one student's final grade as the journal writes it. */
export const overrideText = (o: Pick<OverrideRow, 'percent' | 'letter'>): string =>
  canonical({
    ...(o.percent === null ? {} : { percent: o.percent }),
    ...(o.letter === null ? {} : { letter: o.letter }),
  });

/** Where a student is, as the journal writes it. */
export const enrolText = (s: Pick<StudentRow, 'section' | 'extraTimeHours' | 'left'>): string =>
  canonical({ section: s.section, extraTimeHours: s.extraTimeHours, left: s.left });

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
