import type { Arrivals, Submission, SubmissionFile, SubmissionHistory } from '@contract/work/submissions';
import type { Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { personName } from '../accounts';
import { momentOf, studentsOf } from '../books';
import type { Veil } from '../hidden-names';
import { reopeningsOf } from '../scores';
import { arrivalsForBank, cellsOf, datedBook } from './facts';
import { Deadlines } from './deadlines';
import { findSubmission, submissionsOf, type SubmissionRow } from './sql/submissions';
import { insertOpened, openedIn, tracesOf, type TraceRow } from './sql/traces';
import { BROKEN_AFTER, heardOf } from './sql/broken';
import { openReopening, shutReason, viewOf } from './view';

/** Every student of a book, with what came from them for one assessment. */
export async function arrivals(
  db: Db,
  of: { school: string; book: string; assessment: string; person: string; veil: Veil | null },
): Promise<Arrivals> {
  const { school, book, assessment: id, person, veil } = of;
  const dated = await datedBook(db, school, book);
  const assessment = dated.assessments.find((a) => a.id === id);
  if (!assessment) throw new Refusal('not-found', 'There is no such assessment in this book.');
  const students = inOrder(await studentsOf(db, school, book), veil);
  const cells = await cellsOf(db, dated.row, id, students);
  const deadlines = new Deadlines(
    dated,
    assessment,
    students,
    cells,
    await arrivalsForBank(db, dated, students, false),
  );
  const reopenings = await reopeningsOf(db, school, book, id);
  const opened = await openedIn(db, school, book, id);
  const byStudent = new Map<string, SubmissionRow[]>();
  for (const s of await submissionsOf(db, school, book, id))
    byStudent.set(s.enrolment, [...(byStudent.get(s.enrolment) ?? []), s]);
  return {
    asOf: dated.asOf,
    presence: assessment.work.presence === true,
    students: students.map((student) => {
      const own = byStudent.get(student.id) ?? [];
      const { due, closes } = deadlines.of(student.id);
      const handed = {
        before: own,
        reopenings: reopenings.filter((r) => r.enrolment === student.id),
        ownDue: cells.get(student.id)?.content.dueAt ?? null,
      };
      const handedIn = own.findLast((s) => s.state === 'handed-in');
      const last = cells.get(student.id)?.content.attempts?.at(-1);
      const late = last?.receivedAt && !last.onTime ? deadlines.lateness(student.id, last.receivedAt) : [];
      return {
        enrolment: student.id,
        due,
        open: shutReason({ row: dated.row, assessment, closes, asOf: dated.asOf }, handed) === '',
        openAgain: openReopening(handed)?.until ?? null,
        submissions: own.map((s) => veiledView(viewOf(s, assessment.work), veil)),
        openedBy: opened
          .filter((o) => o.submission === handedIn?.id)
          .map((o) => ({ by: o.person === person ? 'you' : personName(o), through: o.through })),
        late: late.map((l) => l.figure).join(' '),
      };
    }),
  };
}

/** In the order of the book, or in nobody's. */
function inOrder<S extends { id: string }>(students: S[], veil: Veil | null): S[] {
  return veil ? students.toSorted((a, b) => (veil.aliasOf(a.id) < veil.aliasOf(b.id) ? -1 : 1)) : students;
}

/** A submission without what says whose it is: names of files, the receipt that its student holds. */
export const veiledView = (s: Submission, veil: Veil | null): Submission =>
  veil ? { ...s, receipt: null, files: s.files.map((f, i) => veiledFile(f, veil.fileName(f.name, i))) } : s;

const veiledFile = (f: SubmissionFile, name: string): SubmissionFile => ({
  ...f,
  name,
  odd: f.odd?.replaceAll(f.name, name) ?? null,
});

/** Leaves the trace that what was handed in lay before one of the staff; what is only begun is the student's still. */
export async function noteOpened(
  db: Db,
  t: { school: string; book: string; submission: string; person: string; through: boolean },
): Promise<void> {
  const { school, book, submission } = t;
  const s = await findSubmission(db, school, book, submission);
  if (!s || s.state === 'begun') throw new Refusal('not-found', 'There is no such submission in this book.');
  await insertOpened(db, { ...t, assessment: s.assessment, enrolment: s.enrolment });
}

/** All that happened to one submission. */
export async function submissionHistory(
  db: Db,
  of: { school: string; book: string; submission: string; veil: Veil | null },
): Promise<SubmissionHistory> {
  const { school, book, submission: id, veil } = of;
  const s = await findSubmission(db, school, book, id);
  if (!s) throw new Refusal('not-found', 'There is no such submission in this book.');
  // What happened before it was moved here is part of it.
  const before = s.moved && s.state !== 'moved' ? await tracesOf(db, school, s.moved.book, s.moved.submission) : [];
  const names = new Map(s.files.map((f, i) => [f.id, veil ? veil.fileName(f.name, i) : f.name]));
  const by = (t: TraceRow): string => (veil && t.role === 'student' ? 'the student' : personName(t));
  const traces = [...before.filter((t) => t.kind !== 'moved'), ...(await tracesOf(db, school, book, id))];
  return [
    // What was only made ready for somebody is not yet what they read.
    ...traces
      .filter((t) => t.kind !== 'fetched')
      .map((t) => ({
        at: t.at,
        by: by(t),
        kind: t.kind as string,
        file: names.get((JSON.parse(t.detail) as { file?: string }).file ?? '') ?? '',
      })),
    ...(await brokenOff(db, school, s, names)),
  ];
}

/** Files that the server has not heard of any more, as what happened last to them. */
async function brokenOff(
  db: Db,
  school: string,
  s: SubmissionRow,
  names: ReadonlyMap<string, string>,
): Promise<SubmissionHistory> {
  if (s.state !== 'begun') return [];
  const asOf = Date.parse(await momentOf(db, school));
  const coming = s.files.filter((f) => f.sha256 === null && f.received < f.bytes);
  const heard = await heardOf(
    db,
    school,
    coming.map((f) => f.upload),
  );
  return coming.flatMap((f) => {
    const at = heard.get(f.upload) ?? s.begunAt;
    const share = Math.floor((100 * f.received) / Math.max(1, f.bytes));
    return asOf - Date.parse(at) > BROKEN_AFTER * 60_000
      ? [{ at, by: '', kind: 'broke-off', file: `${names.get(f.id)}, ${share} % of it there` }]
      : [];
  });
}
