import { listed } from '@core/words/count';
import { canonical } from '@core/book/canonical';
import type { EntryContent } from '@core/book/change';
import type { PutBackMade, PutBackPreview } from '@contract/history';
import type pg from 'pg';
import { newId, transaction, type Db } from '../../kernel/database';
import { writeCells, type CellRow } from '../../kernel/cells/sql';
import { personName } from '../accounts';
import {
  staffNoteContent,
  upsertStaffNote,
  type StaffNoteContent,
  noteLine,
  currentNote,
  WHOLE_STUDENT,
} from '../annotations';
import { cellKeyOf, cellLine, nextCell, operationOf, stateOf, toStoredText } from '../../kernel/cells/cell';
import { Refusal } from '../../kernel/refusal';
import { governedOf } from '../policy';
import { bookNow, MANAGED, requireSoundBook, restore, textNow, type BookNow } from './put-back-book';
import {
  type BatchLine,
  type FoundBatch,
  findBatch,
  laterLines,
  batchByOperation,
  insertBatch,
  lastDoneBatch,
  lastUndoneBatch,
} from '../../kernel/journal/sql/batches';
import {
  type JournalKind,
  type Who,
  lockBook,
  reserveJournalNumbers,
  type JournalLine,
  writeLines,
} from '../../kernel/journal/sql/lines';
import { currentCells } from '../scores';
import type { StaffNote } from '@contract/annotations';

/** Kinds of lines that can be put back from the journal. Releases are withdrawn on their own page. */
export const UNDOABLE: readonly JournalKind[] = [
  'cell',
  'note',
  'rules',
  'settings',
  'assessment',
  'order',
  'override',
  'enrol',
];

type Line = BatchLine;
const placeOf = (l: Line): { assessment: string; enrolment: string } => ({
  assessment: l.assessment!,
  enrolment: l.enrolment!,
});

/** What a line says its place holds after it. */
const said = (l: Line): string | null => (l.kind === 'cell' ? toStoredText(l.becomes!) : l.becomes);

/** What the place of a line holds now, as the journal would write it. */
interface Now {
  cells: Map<string, CellRow>;
  text(line: Line): string | null;
  remarks: Map<number, StaffNoteContent & { version: number }>;
  /** Everything else that lines are about; null where none is. */
  book: BookNow | null;
}

async function nowOf(db: Db, who: Who, lines: Line[]): Promise<Now> {
  const cellLines = lines.filter((l) => l.kind === 'cell');
  const cells =
    cellLines.length === 0 ? new Map() : await currentCells(db, who.school, who.book, cellLines.map(placeOf));
  const remarks = new Map<number, StaffNoteContent & { version: number }>();
  for (const l of lines.filter((x) => x.kind === 'note'))
    remarks.set(l.seq, await staffNoteContent(db, who.school, who.book, l.enrolment!, l.assessment ?? WHOLE_STUDENT));
  const book = lines.some((l) => MANAGED.includes(l.kind)) ? await bookNow(db, who) : null;
  return {
    cells,
    remarks,
    book,
    text(l) {
      if (l.kind === 'cell') return canonical((cells.get(cellKeyOf(placeOf(l))) as CellRow).content);
      if (l.kind !== 'note') return textNow(l, book!);
      const r = remarks.get(l.seq)!;
      return noteLine('', l.enrolment!, l.assessment ?? WHOLE_STUDENT, r, r).becomes;
    },
  };
}

async function requireBatch(db: Db, who: Who, id: string): Promise<FoundBatch> {
  const found = await findBatch(db, who.school, who.book, id);
  if (!found) throw new Refusal('not-found', 'The journal of this book has no such change.');
  // What made something new is not put back: there may be work on it, and it can be put away.
  const never = found.lines.find(
    (l) => !UNDOABLE.includes(l.kind) || ((l.was === null || l.becomes === null) && l.kind !== 'cell'),
  );
  if (never)
    throw new Refusal(
      'cannot-undo',
      never.kind === 'release' || never.kind === 'withdraw'
        ? 'A release is withdrawn, and a withdrawal released again, on the Release page.'
        : never.kind === 'assessment' || never.kind === 'enrol'
          ? 'What was made new is not put back: an assessment is put away, and a student moved out, on their own pages.'
          : 'Such a change cannot be put back from the journal.',
    );
  return found;
}

/** What putting a set back would do, line by line, with the changes that stand on it since. */
export async function previewPutBack(db: Db, who: Who, id: string): Promise<PutBackPreview> {
  const found = await requireBatch(db, who, id);
  const now = await nowOf(db, who, found.lines);
  const moved = found.lines.filter((l) => now.text(l) !== said(l));
  const later = new Map((await laterLines(db, who.school, who.book, moved)).map((l) => [l.on, l]));
  return {
    batch: id,
    title: found.title,
    undone: found.undone,
    lines: found.lines.map((l) => {
      const on = later.get(l.seq);
      return {
        seq: l.seq,
        kind: l.kind,
        assessment: l.assessment,
        enrolment: l.enrolment,
        now: now.text(l),
        becomes: l.was,
        later: on ? { seq: on.seq, at: on.at, by: personName(on), becomes: on.becomes } : null,
      };
    }),
  };
}

export interface PutBack {
  operation: string;
  kind: 'undo' | 'redo' | 'restore';
  only?: readonly number[];
  leaveLater: boolean;
  reason: string;
  /** The person may change rules and put back what was brought in. */
  manages: boolean;
}

/** Puts a set of changes back as one. Where later changes stand on it, it says which and does nothing, or leaves those. */
export function putBack(pool: pg.Pool, who: Who, id: string, how: PutBack): Promise<PutBackMade> {
  return transaction(pool, async (db) => {
    const seq = await lockBook(db, who.school, who.book);
    return putBackHeld(db, who, seq, id, how);
  });
}

async function putBackHeld(db: Db, who: Who, seq: number, id: string, how: PutBack): Promise<PutBackMade> {
  const done = await batchByOperation(db, who.school, who.book, how.operation);
  if (done) return made(db, who, done.id, seq, '', 0);
  const found = await requireBatch(db, who, id);
  const manager = found.kind === 'intake' || found.lines.some((l) => MANAGED.includes(l.kind));
  if (manager && !how.manages) throw new Refusal('not-allowed', 'Only the teachers of this book may put this back.');
  if (found.undone) throw new Refusal('cannot-undo', 'This was put back already.');
  const only = how.only && new Set(how.only);
  const asked = found.lines.filter((l) => !only || only.has(l.seq));
  if (asked.length === 0) throw new Refusal('bad-request', 'None of these lines belong to this change.');
  const now = await nowOf(db, who, asked);
  const lines = asked.filter((l) => now.text(l) === said(l));
  if (lines.length < asked.length && (!how.leaveLater || lines.length === 0)) throw await standsOn(db, who, asked, now);

  const batch = newId('b');
  await insertBatch(db, who, {
    id: batch,
    kind: how.kind,
    title: found.title,
    cells: lines.length,
    undoes: only ? null : id,
  });
  const first = await reserveJournalNumbers(db, who.school, who.book, lines.length);
  const before = now.book && governedOf(now.book.rules, now.book.assessments);
  const written: JournalLine[] = [];
  const cells: CellRow[] = [];
  for (const [i, l] of lines.entries()) {
    const operation = operationOf(how.operation, i);
    if (l.kind === 'cell') {
      const was = now.cells.get(cellKeyOf(placeOf(l)))!;
      const next = nextCell(was, { kind: 'put', entry: JSON.parse(l.was!) as EntryContent });
      cells.push(next);
      written.push(cellLine(operation, was, next));
    } else written.push(await putBackOther(db, who, operation, l, now, how.reason));
  }
  if (cells.length > 0) await writeCells(db, who.school, who.book, cells);
  if (now.book) await requireSoundBook(db, who, before!, now.book, how.kind === 'restore' ? how.reason : undefined);
  await writeLines(db, who, first, written, { batch, ...(how.reason ? { reason: how.reason } : {}) });
  return made(db, who, batch, first + lines.length - 1, found.title, asked.length - lines.length);
}

/** Whatever is no cell, one at a time: there are few of them in a set. */
async function putBackOther(
  db: Db,
  who: Who,
  operation: string,
  l: Line,
  now: Now,
  reason: string,
): Promise<JournalLine> {
  if (l.kind !== 'note') {
    await restore(db, who, l, now.book!, reason);
    const { kind, assessment, enrolment } = l;
    return { operation, kind, assessment, enrolment, was: l.becomes, becomes: l.was };
  }
  const was = now.remarks.get(l.seq)!;
  const content = JSON.parse(l.was!) as { note?: string; flag?: string };
  const is = { note: content.note ?? null, flag: content.flag ?? null };
  const place = l.assessment ?? WHOLE_STUDENT;
  await upsertStaffNote(db, who.school, who.book, { ...is, enrolment: l.enrolment!, place, version: was.version + 1 });
  return noteLine(operation, l.enrolment!, place, was, is);
}

async function standsOn(db: Db, who: Who, asked: Line[], now: Now): Promise<Refusal> {
  const moved = asked.filter((l) => now.text(l) !== said(l));
  const later = await laterLines(db, who.school, who.book, moved);
  const by = listed([...new Set(later.map((l) => personName(l)))]);
  const what = asked.length === 1 ? 'This was' : `${moved.length} of these ${asked.length} were`;
  return new Refusal('cannot-undo', `${what} changed afterwards${by ? ` by ${by}` : ''}, so nothing was put back.`, {
    now: moved.slice(0, 100).map((l) => ({ seq: l.seq, assessment: l.assessment, enrolment: l.enrolment })),
  });
}

async function made(db: Db, who: Who, batch: string, seq: number, title: string, left: number): Promise<PutBackMade> {
  const { lines } = (await findBatch(db, who.school, who.book, batch))!;
  const places = lines.filter((l) => l.kind === 'cell').map(placeOf);
  const now = places.length === 0 ? new Map<string, CellRow>() : await currentCells(db, who.school, who.book, places);
  const remarks: StaffNote[] = [];
  for (const l of lines.filter((x) => x.kind === 'note'))
    remarks.push(await currentNote(db, who.school, who.book, l.enrolment!, l.assessment ?? WHOLE_STUDENT));
  return {
    batch,
    seq,
    title,
    left,
    cells: places.map((p) => stateOf(now.get(cellKeyOf(p))!, seq)),
    remarks,
    book: lines.some((l) => MANAGED.includes(l.kind)),
  };
}

/** Hours that undo reaches back; what is older is put back from the journal, where one sees what it is. */
const REACH = 24;

/** Undo, or redo, of the person's own last change in the ledger. */
export function step(
  pool: pg.Pool,
  who: Who,
  operation: string,
  kind: 'undo' | 'redo',
  manages: boolean,
): Promise<PutBackMade> {
  return transaction(pool, async (db) => {
    const seq = await lockBook(db, who.school, who.book);
    const done = await batchByOperation(db, who.school, who.book, operation);
    if (done) return made(db, who, done.id, seq, '', 0);
    const last = kind === 'undo' ? await lastDoneBatch(db, who) : await lastUndoneBatch(db, who);
    if (!last)
      throw new Refusal(
        'cannot-undo',
        kind === 'undo' ? 'You have changed nothing in this book yet.' : 'There is nothing to make again.',
      );
    if (Date.parse(last.at) < Date.now() - REACH * 3_600_000)
      throw new Refusal(
        'cannot-undo',
        'Your last change in this book is more than a day old. The journal shows it and can put it back.',
      );
    return putBackHeld(db, who, seq, last.batch, { operation, kind, leaveLater: false, reason: '', manages });
  });
}
