import type pg from 'pg';
import type { StaffNote } from '@contract/annotations';
import type { JournalKind } from '@contract/history';
import type { EntryState } from '@contract/scores';
import { cellKeyOf, stateOf } from '../../kernel/cells/cell';
import { personName } from '../accounts';
import { currentNote, WHOLE_STUDENT } from '../annotations';
import { findBook, type JournalKinds } from '../books';
import { veilOf } from '../hidden-names';
import { linesAfter } from '../history';
import { currentCells } from '../scores';
import { sendTo, tellRoom, type Room } from './watchers';

/** More lines than this at once are not told one by one: the book is to be loaded anew. */
const MANY = 4_000;

interface Line {
  seq: number;
  kind: JournalKind;
}

/** A cell as it is now, and who changed it last. */
interface CellNews {
  state: EntryState;
  person: string;
  by: string;
  byStudent: boolean;
}

/** What came after a line of a book's journal. */
export interface BookNews {
  last: number;
  /** Where the book is to be loaded anew: the line that it stands at. */
  anew: number | null;
  lines: Line[];
  cells: CellNews[];
  remarks: StaffNote[];
  beside: Line[];
  marked: (Line & { assessment: string | null; enrolment: string | null })[];
}

/** What lines are about, each once. */
const kindsOf = (lines: readonly Line[]): JournalKind[] => [...new Set(lines.map((l) => l.kind))];

/** Reads what came after a line of the journal of a room's book; null where nothing did. */
export async function newsAfter(pool: pg.Pool, kinds: JournalKinds, room: Room, seq: number): Promise<BookNews | null> {
  const { school, book } = room;
  const lines = await linesAfter(pool, school, book, seq, MANY + 1);
  const last = lines[lines.length - 1]?.seq;
  if (last === undefined) return null;
  const inScope = (scope: string): typeof lines => lines.filter((l) => kinds.liveScope(l.kind) === scope);
  const bare = { last, lines, cells: [], remarks: [], beside: inScope('beside'), marked: inScope('marking') };
  if (lines.length > MANY || inScope('document').length > 0) {
    // Somebody may have come into the book.
    for (const w of room.watchers) if (w.veil) w.veil = await veilOf(pool, w.school, w.book, w.veil.assessment);
    return { ...bare, anew: (await findBook(pool, school, book))?.seq ?? last };
  }
  const changed = new Map<string, Omit<CellNews, 'state'> & { seq: number; assessment: string; enrolment: string }>();
  for (const { seq, assessment, enrolment, person, byStudent, ...l } of inScope('cell'))
    if (assessment && enrolment)
      changed.set(cellKeyOf({ assessment, enrolment }), { assessment, enrolment, seq, person, by: personName(l), byStudent }); // prettier-ignore
  const now = await currentCells(pool, school, book, [...changed.values()]);
  const cells = [...changed].map(([key, { person, by, byStudent, seq }]) => ({ state: stateOf(now.get(key)!, seq), person, by, byStudent })); // prettier-ignore
  const remarks: StaffNote[] = [];
  for (const key of new Set(inScope('note').map((l) => `${l.enrolment} ${l.assessment ?? WHOLE_STUDENT}`))) {
    const [enrolment, place] = key.split(' ') as [string, string];
    remarks.push(await currentNote(pool, school, book, enrolment, place));
  }
  return { ...bare, anew: null, cells, remarks };
}

/** Tells a room's watchers, each what is after its own line. */
export function tellNews(room: Room, hidden: ReadonlySet<string>, news: BookNews): void {
  const { book } = room;
  const { last, anew } = news;
  if (anew !== null) {
    const what = kindsOf(news.lines);
    tellRoom(room, hidden, last, () => ({ kind: 'book', book, seq: anew, what }), anew);
    return;
  }
  for (const w of room.watchers) {
    const what = kindsOf(news.beside.filter((l) => l.seq > w.seq));
    if (what.length > 0) sendTo(w, hidden, { kind: 'beside', book, seq: last, what });
    const places = news.marked.filter((l) => l.seq > w.seq).map((l) => ({ assessment: l.assessment!, enrolment: l.enrolment! })); // prettier-ignore
    if (places.length > 0) sendTo(w, hidden, { kind: 'marking', book, seq: last, places });
  }
  tellRoom(room, hidden, last, (w) => {
    const fresh = news.cells.filter((s) => s.state.seq > w.seq);
    // What somebody did themselves, here or on another page, is no news to them.
    const by = fresh.map((s) => (s.person === w.person ? '' : w.veil && s.byStudent ? 'the student' : s.by));
    return fresh.length === 0 ? null : { kind: 'cells', book, seq: last, cells: fresh.map((s) => s.state), by };
  });
  if (news.remarks.length > 0)
    for (const w of room.watchers) sendTo(w, hidden, { kind: 'remarks', book, seq: last, remarks: news.remarks });
}
