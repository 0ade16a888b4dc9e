import type pg from 'pg';
import type { DueList, StudentAssessment } from '@contract/work/submissions';
import { snapshot, type Db } from '../../kernel/database';
import type { FileStore } from '../../kernel/files/file-store';
import { enrolmentsOf, momentOf, studentsOf } from '../books';
import { instructions } from '../instructions';
import { readCells } from '../../kernel/cells/sql';
import { datedBook, handedOf, ownPlace, statementOf } from './facts';
import { Deadlines } from './deadlines';
import { settleAll, type Student } from './uploads/parts';
import { reopeningsBy } from '../scores';
import { submissionsBy } from './sql/submissions';
import { attemptsLeft, openReopening, shutReason, viewOf, type Handed } from './view';

/** One assessment as its student hands in. */
export async function studentAssessment(pool: pg.Pool, files: FileStore, who: Student): Promise<StudentAssessment> {
  const read = (): Promise<StudentAssessment> => snapshot(pool, (db) => readAssessment(db, who));
  const seen = await read();
  const lying = seen.begun;
  return lying && (await settleAll(pool, files, who, lying)) ? read() : seen;
}

async function readAssessment(db: Db, who: Student): Promise<StudentAssessment> {
  const own = await ownPlace(db, who.school, who.person, who.book, who.assessment, true);
  const { assessment, student, due, closes, deadlines } = own;
  const { row, asOf } = own.book;
  const { statement: _own, ...settings } = assessment.work;
  const statement = statementOf(own);
  const handed = await handedOf(db, own);
  const all = handed.before;
  const begun = all.find((s) => s.state === 'begun');
  const before = all.filter((s) => s.state !== 'begun').reverse();
  const shut = student.left
    ? 'You are not in this book any more. What you handed in stays readable here.'
    : shutReason({ row, assessment, closes, asOf }, handed);
  const reopened = openReopening(handed);
  return {
    book: row.id,
    bookTitle: row.title,
    timeZone: row.timeZone,
    asOf,
    id: assessment.id,
    title: assessment.title,
    points: assessment.points,
    takesWork: assessment.takesWork,
    settings: statement === null ? settings : { ...settings, statement },
    due,
    closes,
    late: shut === '' ? deadlines.lateness(student.id, asOf) : [],
    shut,
    left: student.left,
    attemptsLeft: attemptsLeft(assessment, handed),
    ...(await readInstructions(db, { school: who.school, book: row.id, assessment: assessment.id })),
    again: reopened && { until: reopened.until, comment: reopened.comment },
    begun: begun ? viewOf(begun, assessment.work) : null,
    before: before.map((s) => viewOf(s, assessment.work)),
  };
}

/** What it asks for, and its files that are all there. */
async function readInstructions(db: Db, place: { school: string; book: string; assessment: string }) {
  const { body, files } = await instructions(db, place);
  return { instructions: body, handouts: files.filter((f) => f.sha256 !== null) };
}

const ALL_KINDS = ['files', 'text', 'link'] as const;

/** What is due in all of a student's books: dates that are to come first, soonest first, then what has none. */
export async function dueList(db: Db, school: string, person: string): Promise<DueList> {
  const work: DueList['work'] = [];
  for (const { book, enrolment } of await enrolmentsOf(db, school, person)) {
    const dated = await datedBook(db, school, book);
    if (dated.row.archived) continue;
    const student = (await studentsOf(db, school, book)).find((s) => s.id === enrolment)!;
    const cells = new Map(
      (await readCells(db, school, book, { enrolments: [enrolment] })).map((c) => [c.assessment, c]),
    );
    const all = await submissionsBy(db, school, book, enrolment);
    const reopenings = await reopeningsBy(db, school, book, enrolment);
    for (const a of dated.assessments.filter((x) => x.shown && x.work.elsewhere !== 'nothing')) {
      const cell = cells.get(a.id);
      const { due, closes } = new Deadlines(dated, a, [student], new Map(cell ? [[enrolment, cell]] : [])).of(
        enrolment,
      );
      const own = all.filter((s) => s.assessment === a.id);
      const begun = own.find((s) => s.state === 'begun');
      const handed: Handed = {
        before: own,
        reopenings: reopenings.filter((r) => r.assessment === a.id),
        ownDue: cell?.content.dueAt ?? null,
      };
      const again = openReopening(handed) !== null;
      const handedIn = own.some((s) => s.state === 'handed-in') || cell?.handedIn.some(Boolean) === true;
      const past = due !== null && Date.parse(dated.asOf) > Date.parse(due);
      const shut = shutReason({ row: dated.row, assessment: a, closes, asOf: dated.asOf }, handed) !== '';
      work.push({
        book,
        bookTitle: dated.row.title,
        timeZone: dated.row.timeZone,
        assessment: a.id,
        title: a.title,
        points: a.points,
        due,
        closes,
        takesWork: a.takesWork,
        kinds: a.work.kinds ?? [...ALL_KINDS],
        elsewhere: a.work.elsewhere ?? 'room',
        state:
          cell?.content.state === 'excused'
            ? 'excused'
            : handedIn && !again
              ? 'handed-in'
              : !past
                ? 'open'
                : a.takesWork
                  ? shut
                    ? 'missing'
                    : 'overdue'
                  : 'past',
        again,
        lying: begun ? begun.files.length + Number(begun.typed.trim() !== '') + Number(begun.link.trim() !== '') : 0,
      });
    }
  }
  const at = (d: { due: string | null }): number => (d.due === null ? Infinity : Date.parse(d.due));
  return {
    asOf: await momentOf(db, school),
    work: work.sort((a, b) => at(a) - at(b) || a.title.localeCompare(b.title)),
  };
}
