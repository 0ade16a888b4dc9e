import type { Where, WhereFinding, WhereStudents } from '@contract/work/submissions';
import { areNamesHidden } from '@core/work/hidden-names';
import type { Db } from '../../kernel/database';
import { managesBook } from '../../kernel/permissions';
import { Refusal } from '../../kernel/refusal';
import { readCells, type CellRow } from '../../kernel/cells/sql';
import type { Person } from '../accounts';
import {
  booksOfSchool,
  booksOfStaff,
  momentOf,
  roleInBook,
  studentsOf,
  type AssessmentRow,
  type BookRow,
  type StudentRow,
} from '../books';
import { reopeningsBy } from '../scores';
import { Deadlines, type DatedBook } from './deadlines';
import { datedBook } from './facts';
import { BROKEN_AFTER, heardOf } from './sql/broken';
import { findStudents, personOfEnrolment, placesOfStudent, titleOf } from './sql/where';
import { submissionsBy, type SubmissionRow } from './sql/submissions';
import { shutReason, viewOf, type Handed } from './view';

/** Students that are offered at once. */
const OFFERED = 30;

/** Books in which somebody may look: those they are staff of; the office's are all. */
const booksOf = (db: Db, school: string, asker: Pick<Person, 'id' | 'role'>): Promise<BookRow[]> =>
  asker.role === 'administrator' ? booksOfSchool(db, school, true) : booksOfStaff(db, school, asker.id, true);

const nameOf = ({ family, given }: { family: string; given: string }): string =>
  given === '' ? family : `${family}, ${given}`;

export async function whereStudents(db: Db, school: string, asker: Person, words: string): Promise<WhereStudents> {
  const books = (await booksOf(db, school, asker)).map((b) => b.id);
  const found = await findStudents(db, school, books, words, OFFERED);
  return found.map((s) => ({ person: s.person, name: nameOf(s), number: s.number }));
}

/** What became of a student's work, in the books in which the asker may look. */
export async function whereIs(
  db: Db,
  school: string,
  asker: Person,
  asked: {
    person: string | null;
    of: string | null;
    enrolment: string | null;
    book: string | null;
    assessment: string | null;
  },
): Promise<Where | null> {
  const books = new Map((await booksOf(db, school, asker)).map((b) => [b.id, b]));
  // An open book knows its students by their enrolment.
  const known = asked.of !== null && asked.enrolment !== null && books.has(asked.of);
  const person = known ? await personOfEnrolment(db, school, asked.of!, asked.enrolment!) : asked.person;
  if (person === null && !known) return null;
  const places = await placesOfStudent(db, school, person ?? '', [...books.keys()]);
  const [who] = places;
  if (!who) throw new Refusal('not-found', 'There is no such student in your books.');
  const findings: WhereFinding[] = [];
  const assessments: Where['assessments'] = [];
  for (const place of places.sort((a, b) => books.get(a.book)!.title.localeCompare(books.get(b.book)!.title))) {
    const row = books.get(place.book)!;
    const dated = await datedBook(db, school, place.book);
    const teaches = managesBook(await roleInBook(db, school, place.book, asker.id));
    const manages = teaches || asker.role === 'administrator';
    if (manages && !place.left && !row.archived)
      for (const a of dated.assessments)
        assessments.push({ book: row.id, bookTitle: row.title, assessment: a.id, title: a.title, takesWork: a.takesWork }); // prettier-ignore
    if (asked.book !== null && asked.book !== place.book) continue;
    const student = (await studentsOf(db, school, place.book, true)).find((s) => s.id === place.enrolment)!;
    const wanted = dated.assessments.filter((a) => asked.assessment === null || a.id === asked.assessment);
    const stands = { manages, teaches, left: place.left };
    // Where names are hidden it is not even said whether anything came: its time would say whose it is.
    findings.push(
      ...(await findingsIn(
        ...([db, dated, student] as const),
        wanted.filter((a) => !areNamesHidden(a.work)),
        stands,
      )),
      ...wanted.filter((a) => areNamesHidden(a.work)).map((a) => hiddenFinding(dated, student, a, stands)),
    );
  }
  const at = (f: WhereFinding): string => f.at ?? '';
  return {
    asOf: await momentOf(db, school),
    person: who.person,
    name: nameOf(who),
    number: who.number,
    findings: findings.sort((a, b) => at(b).localeCompare(at(a))),
    assessments,
  };
}

/** Of each assessment every piece that is known, or that nothing is. */
async function findingsIn(
  db: Db,
  dated: DatedBook,
  student: StudentRow,
  assessments: readonly AssessmentRow[],
  asker: { manages: boolean; teaches: boolean; left: boolean },
): Promise<WhereFinding[]> {
  const { school, id: book, title: bookTitle, timeZone } = dated.row;
  const all = await submissionsBy(db, school, book, student.id);
  const reopenings = await reopeningsBy(db, school, book, student.id);
  const cells = new Map(
    (await readCells(db, school, book, { enrolments: [student.id] })).map((c) => [c.assessment, c]),
  );
  const heard = await heardOf(db, school, all.flatMap((s) => s.files.map((f) => f.upload))); // prettier-ignore
  const findings: WhereFinding[] = [];
  for (const a of assessments) {
    const cell = cells.get(a.id);
    const own = all.filter((s) => s.assessment === a.id);
    const { due, closes } = new Deadlines(dated, a, [student], new Map(cell ? [[student.id, cell]] : [])).of(
      student.id,
    );
    const handed: Handed = {
      before: own.filter((s) => s.state !== 'begun'),
      reopenings: reopenings.filter((r) => r.assessment === a.id),
      ownDue: cell?.content.dueAt ?? null,
    };
    const open = !asker.left && shutReason({ row: dated.row, assessment: a, closes, asOf: dated.asOf }, handed) === '';
    const scored = (attempt: number | null): boolean => {
      const of = attempt === null ? cell?.content.attempts?.at(-1) : cell?.content.attempts?.[attempt - 1];
      return of?.score !== undefined || of?.mark !== undefined || cell?.content.set !== undefined;
    };
    const about = {
      book,
      bookTitle,
      timeZone,
      assessment: a.id,
      title: a.title,
      enrolment: student.id,
      ...asker,
      due,
      open,
    };
    for (const s of own)
      findings.push({
        ...about,
        ...stateOf(s, heard, dated.asOf),
        submission: viewOf(s, a.work),
        scored: s.attempt !== null && scored(s.attempt),
        late: s.handedInAt !== null && due !== null && Date.parse(s.handedInAt) > Date.parse(due),
        other: s.moved === null ? null : await titleOf(db, school, s.moved),
      });
    if (own.length === 0)
      findings.push({ ...about, ...withoutWork(a, cell), submission: null, scored: scored(null), late: false, other: null }); // prettier-ignore
  }
  return findings;
}

/** What is said of work whose names are hidden: that they are. */
const hiddenFinding = (
  { row: { id: book, title: bookTitle, timeZone } }: DatedBook,
  student: StudentRow,
  a: AssessmentRow,
  asker: { manages: boolean; teaches: boolean; left: boolean },
): WhereFinding => ({
  ...{ book, bookTitle, timeZone, assessment: a.id, title: a.title, enrolment: student.id, ...asker },
  ...{ due: null, open: false, kind: 'hidden', at: null, submission: null, scored: false, late: false, other: null },
});

/** What is true of one piece of work, and since when. */
function stateOf(
  s: SubmissionRow,
  heard: ReadonlyMap<string, string>,
  asOf: string,
): Pick<WhereFinding, 'kind' | 'at'> {
  if (s.state !== 'begun') return { kind: s.state, at: s.handedInAt };
  const coming = s.files.filter((f) => f.sha256 === null && f.received < f.bytes);
  if (coming.length === 0) return { kind: 'begun', at: s.begunAt };
  const last = coming.map((f) => heard.get(f.upload) ?? s.begunAt).sort().at(-1)!; // prettier-ignore
  const quiet = Date.parse(asOf) - Date.parse(last) > BROKEN_AFTER * 60_000;
  return { kind: quiet ? 'broke-off' : 'coming', at: last };
}

function withoutWork(a: AssessmentRow, cell: CellRow | undefined): Pick<WhereFinding, 'kind' | 'at'> {
  const received = cell?.content.attempts?.at(-1);
  if (received) return { kind: 'recorded', at: received.receivedAt ?? null };
  if (cell?.content.state === 'excused') return { kind: 'excused', at: null };
  return { kind: a.takesWork ? 'nothing' : 'elsewhere', at: null };
}
