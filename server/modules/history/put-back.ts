import { listed } from '@core/words/count';
import type { Governed } from '@core/policy/deviations';
import type { PutBackMade, PutBackPreview } from '@contract/history';
import type { StaffNote } from '@contract/annotations';
import type pg from 'pg';
import type { BookTransaction } from '../../kernel/book-transaction';
import { type Db } from '../../kernel/database';
import type { CellRow } from '../../kernel/cells/sql';
import { cellKeyOf, stateOf } from '../../kernel/cells/cell';
import {
  type BatchLine,
  type FoundBatch,
  findBatch,
  laterLines,
  lastDoneBatch,
  lastUndoneBatch,
} from '../../kernel/journal/sql/batches';
import type { LineContent, Who } from '../../kernel/journal/sql/lines';
import { managesBook } from '../../kernel/permissions';
import { Refusal } from '../../kernel/refusal';
import { personName } from '../accounts';
import { currentNote, WHOLE_STUDENT } from '../annotations';
import type { Names } from '../hidden-names';
import {
  type Author,
  type BookNow,
  bookNow,
  type Commit,
  commitBook,
  type JournalKinds,
  momentOf,
  type OpenPutBack,
  type PutBackWay,
  requireMarksFit,
  requireSoundRules,
  requireVariantsFit,
} from '../books';
import { governedOf, requireWithinPolicy } from '../policy';
import { currentCells } from '../scores';

type Line = BatchLine;
const placeOf = (l: Line): { assessment: string; enrolment: string } => ({
  assessment: l.assessment!,
  enrolment: l.enrolment!,
});

/** What the places of a set's lines hold now, each kind of line in its own way. */
interface Now {
  said(line: Line): string | null;
  text(line: Line): string | null;
  of(line: Line): OpenPutBack;
  ways: OpenPutBack[];
  /** Everything else that lines are about; null where none is. */
  book: BookNow | null;
}

async function nowOf(kinds: JournalKinds, db: Db, who: Who, lines: Line[]): Promise<Now> {
  const byWay = new Map<PutBackWay, Line[]>();
  for (const l of lines) {
    const way = kinds.wayOf(l);
    byWay.set(way, [...(byWay.get(way) ?? []), l]);
  }
  const book = [...byWay.keys()].some((way) => way.frame) ? await bookNow(db, who) : null;
  const read = (): Promise<BookNow> => (book ? Promise.resolve(book) : bookNow(db, who));
  const open = new Map<PutBackWay, OpenPutBack>();
  for (const [way, some] of byWay) open.set(way, await way.open(db, who, some, read));
  const of = (l: Line): OpenPutBack => open.get(kinds.wayOf(l))!;
  return { book, of, ways: [...open.values()], said: (l) => of(l).said(l), text: (l) => of(l).text(l) };
}

async function requireBatch(kinds: JournalKinds, db: Db, who: Who, id: string, names: Names): Promise<FoundBatch> {
  const found = await findBatch(db, who.school, who.book, id);
  if (!found) throw new Refusal('not-found', 'The journal of this book has no such change.');
  // Through a veil all of it is about the one assessment; by name nothing is about work that is not told by name.
  for (const l of found.lines) if (names.veil || l.enrolment !== null) names.require(l.assessment);
  // What made something new is not put back: there may be work on it, and it can be put away.
  const refused = found.lines.map((l) => kinds.refusal(l)).find((why) => why !== null);
  if (refused !== undefined) throw new Refusal('cannot-undo', refused!);
  return found;
}

/** What putting a set back would do, line by line, with the changes that stand on it since. */
export async function previewPutBack(
  kinds: JournalKinds,
  db: Db,
  who: Who,
  id: string,
  names: Names,
): Promise<PutBackPreview> {
  const found = await requireBatch(kinds, db, who, id, names);
  const now = await nowOf(kinds, db, who, found.lines);
  const moved = found.lines.filter((l) => now.text(l) !== now.said(l));
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
}

/** Puts a set of changes back as one. Where later changes stand on it, it says which and does nothing, or leaves those. */
export function putBack(
  kinds: JournalKinds,
  pool: pg.Pool,
  who: Author,
  id: string,
  how: PutBack,
  names: Names,
): Promise<PutBackMade> {
  return commitBook(pool, who, how.operation, (db, { role }) =>
    putBackIn(kinds, db, who, managesBook(role), id, how, names),
  );
}

/** The person may change rules and put back what was brought in where `manages`. */
async function putBackIn(
  kinds: JournalKinds,
  db: BookTransaction,
  who: Who,
  manages: boolean,
  id: string,
  how: Omit<PutBack, 'operation'>,
  names: Names,
): Promise<Commit<PutBackMade>> {
  const found = await requireBatch(kinds, db, who, id, names);
  const manager = found.kind === 'intake' || found.lines.some((l) => kinds.find(l.kind)!.managed);
  if (manager && !manages) throw new Refusal('not-allowed', 'Only the teachers of this book may put this back.');
  if (found.undone) throw new Refusal('cannot-undo', 'This was put back already.');
  const only = how.only && new Set(how.only);
  const asked = found.lines.filter((l) => !only || only.has(l.seq));
  if (asked.length === 0) throw new Refusal('bad-request', 'None of these lines belong to this change.');
  const now = await nowOf(kinds, db, who, asked);
  const lines = asked.filter((l) => now.text(l) === now.said(l));
  if (lines.length < asked.length && (!how.leaveLater || lines.length === 0)) throw await standsOn(db, who, asked, now);

  const before = now.book && governedOf(now.book.rules, now.book.assessments);
  const written: LineContent[] = [];
  // One after the other: a set may hold two lines of one place.
  for (const l of lines) written.push(await now.of(l).put(db, l, how.reason));
  for (const way of now.ways) await way.finish?.(db);
  if (now.book) await requireSoundBook(db, who, before!, now.book, how.kind === 'restore' ? how.reason : undefined);
  return {
    lines: written,
    set: { kind: how.kind, title: found.title, undoes: only ? null : id },
    reason: how.reason,
    answer: ({ batch, last }) =>
      made(db, who, batch, last, found.title, asked.length - lines.length, now.book !== null),
  };
}

/** Refuses a book that what was put back would make unsound, or bring out of what its school has fixed. */
async function requireSoundBook(
  db: Db,
  who: Who,
  was: Governed,
  now: BookNow,
  reason: string | undefined,
): Promise<void> {
  await requireWithinPolicy(db, who.school, was, governedOf(now.rules, now.assessments), reason);
  await requireMarksFit(db, who, now.rules, now.assessments);
  await requireVariantsFit(db, who, now.rules);
  requireSoundRules(
    now.row.timeZone,
    now.rules,
    now.assessments.filter((a) => !a.archived),
  );
}

async function standsOn(db: Db, who: Who, asked: Line[], now: Now): Promise<Refusal> {
  const moved = asked.filter((l) => now.text(l) !== now.said(l));
  const later = await laterLines(db, who.school, who.book, moved);
  const by = listed([...new Set(later.map((l) => personName(l)))]);
  const what = asked.length === 1 ? 'This was' : `${moved.length} of these ${asked.length} were`;
  return new Refusal('cannot-undo', `${what} changed afterwards${by ? ` by ${by}` : ''}, so nothing was put back.`, {
    now: moved.slice(0, 100).map((l) => ({ seq: l.seq, assessment: l.assessment, enrolment: l.enrolment })),
  });
}

async function made(
  db: Db,
  who: Who,
  batch: string,
  seq: number,
  title: string,
  left: number,
  book: boolean,
): Promise<PutBackMade> {
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
    book,
  };
}

/** Hours that undo reaches back; what is older is put back from the journal, where one sees what it is. */
const REACH = 24;

/** Undo, or redo, of the person's own last change in the ledger. */
export function step(
  kinds: JournalKinds,
  pool: pg.Pool,
  who: Author,
  operation: string,
  kind: 'undo' | 'redo',
  names: Names,
): Promise<PutBackMade> {
  return commitBook(pool, who, operation, async (db, { role }) => {
    const last = kind === 'undo' ? await lastDoneBatch(db, who) : await lastUndoneBatch(db, who);
    if (!last)
      throw new Refusal(
        'cannot-undo',
        kind === 'undo' ? 'You have changed nothing in this book yet.' : 'There is nothing to make again.',
      );
    if (Date.parse(last.at) < Date.parse(await momentOf(db, who.school)) - REACH * 3_600_000)
      throw new Refusal(
        'cannot-undo',
        'Your last change in this book is more than a day old. The journal shows it and can put it back.',
      );
    const how = { kind, leaveLater: false, reason: '' };
    return putBackIn(kinds, db, who, managesBook(role), last.batch, how, names);
  });
}
