import { areNamesHidden } from '@core/work/hidden-names';
import type pg from 'pg';
import { canonical } from '@core/book/canonical';
import type { HandedIn, MoveWrite } from '@contract/work/submissions';
import type { BookTransaction } from '../../kernel/book-transaction';
import { cellLine, emptyCell, nextCell } from '../../kernel/cells/cell';
import { writeCells, type CellRow } from '../../kernel/cells/sql';
import { newId } from '../../kernel/database';
import type { LineContent } from '../../kernel/journal/sql/lines';
import { Refusal } from '../../kernel/refusal';
import { commitBook, commitBooks, enrolmentsOf, type Author } from '../books';
import { tellStudents } from '../notices';
import { isPartReleased } from '../statements';
import { moveFeedback } from '../feedback';
import { moveMarks } from '../work-marks';
import { placeOf, type OwnPlace } from './facts';
import { insertMoved, markMoved } from './sql/moves';
import { findSubmission, holdSubmission, type SubmissionRow } from './sql/submissions';
import { insertTrace } from './sql/traces';
import { viewOf } from './view';

/** Moves what was handed in to where it belongs, in this book or another: its receipt and times go with it. */
export function moveWork(pool: pg.Pool, author: Author, id: string, write: MoveWrite): Promise<HandedIn> {
  const { book } = author;
  if (write.to.book === book)
    return commitBook(pool, author, write.operation, async (db) => {
      const { from, to, answer } = await move(db, author, id, write);
      return { lines: [...from, ...to], reason: write.reason, answer };
    });
  return commitBooks(pool, author, write.to.book, write.operation, async (db) => {
    const { from, to, answer } = await move(db, author, id, write);
    const { reason } = write;
    return { commits: new Map([[book, { lines: from, reason }], [write.to.book, { lines: to, reason }]]), answer }; // prettier-ignore
  });
}

async function move(
  db: BookTransaction,
  { school, book, person }: Author,
  id: string,
  write: MoveWrite,
): Promise<{ from: LineContent[]; to: LineContent[]; answer(): Promise<HandedIn> }> {
  await holdSubmission(db, school, book, id);
  const s = await findSubmission(db, school, book, id);
  const source = s && (await placeOf(db, school, book, s.enrolment, s.assessment));
  if (!s || !source) throw new Refusal('not-found', 'There is no such work in this book.');
  if (s.state !== 'handed-in' || s.version !== write.version)
    throw new Refusal('stale', 'This was changed meanwhile. Look again before you move it.', {
      now: viewOf(s, source.assessment.work),
    });
  const was = cellAt(source, s);
  requireMovable(was, s);
  if (await isPartReleased(db, { school, book, assessment: s.assessment, enrolment: s.enrolment }))
    throw new Refusal('not-allowed', RELEASED);
  const target = await targetOf(db, school, source, write);
  const from = await takeOut(db, source, s, was);
  const { lines: to, moved } = await putIn(db, source, target, s);
  await moveMarks(db, { school, book, submission: s.id }, { school, book: write.to.book, submission: moved }, person);
  await moveFeedback(
    db,
    { school, book, assessment: s.assessment, enrolment: s.enrolment, work: s.id },
    { book: write.to.book, assessment: write.to.assessment, enrolment: target.student.id, work: moved },
  );
  await markMoved(db, school, book, s.id, { book: write.to.book, submission: moved });
  const at = { book: write.to.book, submission: moved };
  await insertTrace(db, school, book, { submission: s.id, person, kind: 'moved', detail: at });
  await insertTrace(db, school, write.to.book, { submission: moved, person, kind: 'moved-in', detail: { book, submission: s.id } }); // prettier-ignore
  await tellStudents(db, school, write.to.book, [target.student.id], {
    text: `What you handed in for ${source.assessment.title} was moved to ${target.assessment.title}. Receipt and times are as they were.`,
    assessment: write.to.assessment,
    writtenBy: person,
  });
  // Where names are hidden it is not told which piece of work it became.
  const told = areNamesHidden(target.assessment.work) ? { book, submission: s.id } : at;
  const answer = async (): Promise<HandedIn> => ({
    submission: viewOf((await findSubmission(db, school, told.book, told.submission))!, target.assessment.work),
  });
  return { from, to, answer };
}

const cellAt = (place: OwnPlace, s: { enrolment: string; assessment: string }): CellRow =>
  place.cells.get(s.enrolment) ?? emptyCell({ enrolment: s.enrolment, assessment: s.assessment });

const RELEASED = 'Something of this student was released here. Withdraw it first, then move the work.';

function requireMovable(cell: CellRow, s: SubmissionRow): void {
  const attempt = cell.content.attempts?.[s.attempt! - 1];
  const scored = attempt?.score !== undefined || attempt?.mark !== undefined;
  if (scored || cell.releaseState !== 0)
    throw new Refusal(
      'not-allowed',
      scored ? 'It is scored already. Take the score away first, then move it.' : RELEASED,
    );
}

/** The same person's place where it goes; refuses what is no place, and the one where it lies. */
async function targetOf(db: BookTransaction, school: string, source: OwnPlace, write: MoveWrite): Promise<OwnPlace> {
  const { book, assessment } = write.to;
  if (book === source.book.row.id && assessment === source.assessment.id)
    throw new Refusal('bad-request', 'It lies there already.');
  const enrolment = (await enrolmentsOf(db, school, source.student.person)).find((e) => e.book === book)?.enrolment;
  const target = enrolment && (await placeOf(db, school, book, enrolment, assessment));
  if (!target) throw new Refusal('bad-request', 'This student is not in that book, or it has no such assessment.');
  if (!target.assessment.takesWork)
    throw new Refusal('bad-request', `Nothing is handed in here for ${target.assessment.title}.`);
  return target;
}

/** The source's cell without the attempt that the work made. */
async function takeOut(db: BookTransaction, source: OwnPlace, s: SubmissionRow, was: CellRow): Promise<LineContent[]> {
  const { school, id: book } = source.book.row;
  const attempts = (was.content.attempts ?? []).filter((_, n) => n !== s.attempt! - 1);
  const is = nextCell(was, { kind: 'put', entry: { ...was.content, attempts } });
  is.handedIn = was.handedIn.filter((_, n) => n !== s.attempt! - 1);
  await writeCells(db, school, book, [is]);
  const { assessment, enrolment } = s;
  const said = (state: string): string => canonical({ id: s.id, state, receipt: s.receipt });
  return [
    cellLine(was, is),
    { kind: 'submission', assessment, enrolment, was: said('handed-in'), becomes: said('moved') },
  ];
}

/** The target's cell with one attempt more, come in when the work did. */
async function putIn(
  db: BookTransaction,
  source: OwnPlace,
  target: OwnPlace,
  s: SubmissionRow,
): Promise<{ lines: LineContent[]; moved: string }> {
  const { school, id: book } = target.book.row;
  const place = { enrolment: target.student.id, assessment: target.assessment.id };
  const was = cellAt(target, place);
  const next = nextCell(was, { kind: 'received', at: s.handedInAt! });
  const is = { ...next, handedIn: next.handedIn.map((h, n) => h || n === next.handedIn.length - 1) };
  await writeCells(db, school, book, [is]);
  const moved = newId('w');
  const attempt = is.content.attempts!.length;
  await insertMoved(db, school, { book: source.book.row.id, id: s.id }, { book, id: moved, ...place, attempt });
  const becomes = canonical({ id: moved, state: 'handed-in', attempt, receipt: s.receipt });
  return { lines: [cellLine(was, is), { kind: 'submission', ...place, was: null, becomes }], moved };
}
