import type { JournalCell, JournalLines, JournalPage, JournalSet } from '@contract/history';
import { findBook, type JournalKinds } from '../books';
import type { Db } from '../../kernel/database';
import {
  batchesAbout,
  journalSets,
  linesOfBatch,
  writersOf,
  type JournalQuery,
  type LineRow,
} from './sql/journal-pages';
import { personName } from '../accounts';
import { noteTexts } from '../annotations';
import type { Names } from '../hidden-names';
import { Refusal } from '../../kernel/refusal';

/** Words that a search may have. */
const MOST_WORDS = 8;

/** Sets on one page, and lines of each that are shown at once. */
const PAGE = 60;
const SHOWN = 4;

/** Reads what is asked from an address. What cannot be understood is refused, not left out. */
export function queryOf(kinds: JournalKinds, query: Record<string, unknown>): JournalQuery {
  const text = (name: string, pattern: RegExp): string | undefined => {
    const value = query[name];
    if (value === undefined || value === '') return undefined;
    if (typeof value !== 'string' || !pattern.test(value))
      throw new Refusal('bad-request', `“${name}” of the journal cannot be read.`);
    return value;
  };
  const id = /^[A-Za-z0-9._-]{1,64}$/;
  const moment = (name: string): string | undefined => {
    const value = text(name, /^\d{4}-\d\d-\d\dT[\d:.]+(Z|[+-]\d\d:\d\d)$/);
    if (value !== undefined && Number.isNaN(Date.parse(value)))
      throw new Refusal('bad-request', `“${value}” is no moment.`);
    return value;
  };
  const kind = text('kind', /^[a-z]{1,20}$/);
  if (kind !== undefined && kind !== 'intake' && !kinds.inTopic(kind))
    throw new Refusal('bad-request', `The journal has no lines of the kind “${kind}”.`);
  const words = (text('words', /^[^]{1,200}$/) ?? '').trim().split(/\s+/).filter(Boolean);
  const before = text('before', /^\d{1,9}$/);
  if (words.length > MOST_WORDS)
    throw new Refusal('bad-request', `The journal is searched for ${MOST_WORDS} words at most.`);
  // A letter beside other words is in nearly every line: it would cost much and tell nothing apart.
  const telling = words.length > 1 ? words.filter((w) => w.length > 1 || /\d/.test(w)) : words;
  const q: JournalQuery = { words: telling.length > 0 ? telling : words.slice(0, 1) };
  const enrolment = text('enrolment', id);
  const assessment = text('assessment', id);
  const person = text('person', id);
  const from = moment('from');
  const to = moment('to');
  if (enrolment !== undefined) q.enrolment = enrolment;
  if (assessment !== undefined) q.assessment = assessment;
  if (person !== undefined) q.person = person;
  if (from !== undefined) q.from = from;
  if (to !== undefined) q.to = to;
  if (kind === 'intake') q.intake = true;
  else if (kind !== undefined) q.kinds = kinds.inTopic(kind)!;
  if (before !== undefined) q.before = Number(before);
  return q;
}

export async function journalPage(
  kinds: JournalKinds,
  db: Db,
  school: string,
  book: string,
  asked: JournalQuery,
  names: Names,
): Promise<JournalPage> {
  const hidden = [...names.hidden];
  const [{ sets, lines }, people, row] = await Promise.all([
    journalSets(db, school, book, { ...asked, hidden }, PAGE + 1, SHOWN),
    writersOf(db, school, book),
    findBook(db, school, book),
  ]);
  const page = sets.slice(0, PAGE);
  const batches = page.map((s) => s.batch);
  const veiled = await batchesAbout(db, school, book, batches, hidden);
  const byBatch = new Map<string, LineRow[]>();
  for (const l of lines) byBatch.set(l.batch, [...(byBatch.get(l.batch) ?? []), l]);
  return {
    sets: page.map((s): JournalSet => ({
      batch: s.batch,
      first: s.first,
      last: s.last,
      at: s.at,
      // Who hands in is whose work it is.
      by: veiled.has(s.batch) && s.byStudent ? 'a student' : personName(s),
      kind: s.kind,
      set: s.set,
      // Both may name somebody.
      title: veiled.has(s.batch) ? '' : s.title,
      reason: veiled.has(s.batch) ? '' : s.reason,
      lines: s.lines,
      students: s.students,
      shown: (byBatch.get(s.batch) ?? []).map((l) => told(l, names)),
      undone: s.undone,
      undoable:
        !s.undone &&
        !veiled.has(s.batch) &&
        kinds.find(s.kind) !== undefined &&
        typeof kinds.find(s.kind)!.putBack !== 'string' &&
        // What was made new is put away, not put back.
        (byBatch.get(s.batch) ?? []).every((l) => kinds.refusal(l) === null),
    })),
    before: sets.length > PAGE ? page[page.length - 1]!.first : null,
    total: row!.seq,
    people: people.filter((p) => hidden.length === 0 || !p.student).map((p) => ({ id: p.id, name: personName(p) })),
    notes: await notesIn(db, school, book, lines, names),
  };
}

/** It is not said whose work a line is about. */
const isHidden = (l: LineRow, names: Names): boolean =>
  l.enrolment !== null && l.assessment !== null && !names.opens(l.assessment);

/** A line as it is told: where names are hidden, neither whose it is nor what. */
function told({ batch: _b, ...l }: LineRow, names: Names): JournalCell {
  if (!isHidden({ batch: '', ...l }, names)) return l;
  return { ...l, enrolment: null, was: null, becomes: null, hidden: true };
}

export async function linesOf(
  db: Db,
  school: string,
  book: string,
  batch: string,
  names: Names,
): Promise<JournalLines> {
  const lines = await linesOfBatch(db, school, book, batch);
  if (lines.length === 0) throw new Refusal('not-found', 'The journal of this book has no such change.');
  // Their order may be that of names.
  const [hidden, open] = [lines.filter((l) => isHidden(l, names)), lines.filter((l) => !isHidden(l, names))];
  return {
    lines: [...open, ...hidden].map((l) => told(l, names)),
    notes: await notesIn(db, school, book, lines, names),
  };
}

/** Texts of the notes that these lines name. */
async function notesIn(
  db: Db,
  school: string,
  book: string,
  lines: LineRow[],
  names: Names,
): Promise<Record<string, string>> {
  const ids = lines
    .filter((l) => l.kind === 'note' && !isHidden(l, names))
    .flatMap((l) => [l.was, l.becomes])
    .flatMap((t) => {
      const note = t === null ? undefined : (JSON.parse(t) as { note?: string }).note;
      return note === undefined ? [] : [note];
    });
  return ids.length === 0 ? {} : Object.fromEntries(await noteTexts(db, school, book, ids));
}
