import { cellKeyOf } from '../../kernel/cells/cell';
import type pg from 'pg';
import { canonical } from '@core/book/canonical';
import { snapshot, transaction, type Db } from '../../kernel/database';
import { reasonsSince, assemble, type AssembledBook, type AssessmentRow } from '../books';
import { insertNotices } from '../notices';
import { Refusal } from '../../kernel/refusal';
import {
  writeStatements,
  standingOf,
  workOutStatements,
  type StatementStanding,
  type WorkedStatement,
} from './student-statement';
import { type Who, reserveJournalNumbers, writeLines, lockBook, operationDone } from '../../kernel/journal/sql/lines';
import { releasedTo, writeReleased, deleteReleased, statementsOf } from './sql/releases';
import type { Released, ReleasePreview, ReleasePreviewWrite, ReleaseWrite, WithdrawWrite } from '@contract/statements';

/** Releases one assessment to one, some or all: what each sees is written down in the same transaction. */
export async function release(pool: pg.Pool, who: Who, write: ReleaseWrite): Promise<Released> {
  return transaction(pool, async (db) => {
    const { book, assessment, enrolments, replay } = await begin(db, who, write);
    if (replay) return replay;
    const first = await reserveJournalNumbers(db, who.school, who.book, enrolments.length);
    const cells = new Map(book.cells.filter((c) => c.assessment === assessment.id).map((c) => [c.enrolment, c]));
    const before = new Map(
      (await releasedTo(db, who.school, who.book, enrolments)).map((r) => [cellKeyOf(r), r.entry]),
    );
    await writeReleased(db, {
      school: who.school,
      book: who.book,
      assessment: assessment.id,
      at: book.document.asOf,
      by: who.person,
      cells: enrolments.map((enrolment) => {
        const cell = cells.get(enrolment);
        return { enrolment, entry: canonical(cell?.content ?? {}), version: cell?.version ?? 0 };
      }),
    });
    const slips = await workOutStatements(db, who, book, enrolments, write.moveRules);
    await writeStatements(db, who, book.document.asOf, slips);
    await tellOfRules(db, who, book, slips, write.tell?.trim() ?? '');
    await writeLines(
      db,
      who,
      first,
      enrolments.map((enrolment, i) => {
        const was = before.get(`${assessment.id} ${enrolment}`);
        return {
          operation: i === 0 ? write.operation : `${write.operation}.${i}`,
          kind: 'release' as const,
          assessment: assessment.id,
          enrolment,
          was: was === undefined ? null : canonical(was),
          becomes: canonical(cells.get(enrolment)?.content ?? {}),
        };
      }),
    );
    return { people: enrolments.length, seq: first + enrolments.length - 1 };
  });
}

/** Hides an assessment again at once. Those who never had it are left alone. */
export async function withdraw(pool: pg.Pool, who: Who, write: WithdrawWrite): Promise<Released> {
  return transaction(pool, async (db) => {
    const { book, assessment, enrolments, replay } = await begin(db, who, write);
    if (replay) return replay;
    const had = await releasedTo(db, who.school, who.book, enrolments);
    const gone = await deleteReleased(db, who.school, who.book, assessment.id, enrolments, book.document.asOf);
    if (gone.length === 0)
      throw new Refusal(
        'bad-request',
        `${assessment.title} is not released to any of these students, so there was nothing to withdraw.`,
      );
    const first = await reserveJournalNumbers(db, who.school, who.book, gone.length);
    await writeStatements(db, who, book.document.asOf, await workOutStatements(db, who, book, gone, false));
    await writeLines(
      db,
      who,
      first,
      gone.map((enrolment, i) => ({
        operation: i === 0 ? write.operation : `${write.operation}.${i}`,
        kind: 'withdraw' as const,
        assessment: assessment.id,
        enrolment,
        was: canonical(had.find((h) => h.assessment === assessment.id && h.enrolment === enrolment)!.entry),
        becomes: null,
      })),
    );
    return { people: gone.length, seq: first + gone.length - 1 };
  });
}

async function begin(
  db: Db,
  who: Who,
  write: { operation: string; assessment: string; enrolments: string[] | null },
  hold = true,
): Promise<{
  book: AssembledBook;
  assessment: AssessmentRow;
  enrolments: string[];
  replay: Released | null;
}> {
  // The lock first, so that what is read is what is released.
  if (hold) await lockBook(db, who.school, who.book);
  const book = await assemble(db, who.school, who.book);
  const assessment = book.assessments.find((a) => a.id === write.assessment);
  if (!assessment) throw new Refusal('not-found', 'There is no such assessment in this book.');
  const here = new Set(book.students.map((s) => s.id));
  const enrolments = [...new Set(write.enrolments ?? here)];
  const strangers = enrolments.filter((e) => !here.has(e));
  if (strangers.length > 0)
    throw new Refusal(
      'bad-request',
      `${strangers.length} of these students are not in this book. Nothing was changed.`,
    );
  if (enrolments.length === 0) throw new Refusal('bad-request', 'There is nobody in this book yet.');
  const done = await operationDone(db, who.school, who.book, write.operation);
  if (done !== null) return { book, assessment, enrolments, replay: { people: enrolments.length, seq: book.row.seq } };
  return { book, assessment, enrolments, replay: null };
}

/** Tells those whose standing the rules have moved; why, in the words of the person who releases. */
async function tellOfRules(
  db: Db,
  who: Who,
  book: AssembledBook,
  slips: WorkedStatement[],
  why: string,
): Promise<void> {
  if (!book.row.showsStanding) return;
  for (const s of slips.filter((x) => x.moved !== null && changes(x))) {
    const words = `Your standing is worked out by changed rules: ${shown(s.moved!.before)} becomes ${shown(standingOf(s.body))}.`;
    await insertNotices(db, who.school, who.book, [s.enrolment], why === '' ? words : `${words} Why: ${why}`);
  }
}

const shown = (s: StatementStanding): string =>
  `${s.percent ?? 'no grade yet'}${s.letter === null ? '' : ` (${s.letter})`}`;
const changes = (s: WorkedStatement): boolean => shown(s.moved!.before) !== shown(standingOf(s.body));

/** Whose standing a release would change, and by what. Nothing is written. */
export function previewRelease(pool: pg.Pool, who: Who, write: ReleasePreviewWrite): Promise<ReleasePreview> {
  return snapshot(pool, async (db) => {
    const { book, assessment, enrolments } = await begin(db, who, { ...write, operation: '' }, false);
    const cells = new Map(book.cells.filter((c) => c.assessment === assessment.id).map((c) => [c.enrolment, c]));
    const fresh = enrolments.map((enrolment) => ({
      enrolment,
      assessment: assessment.id,
      entry: cells.get(enrolment)?.content ?? {},
      releasedAt: book.document.asOf,
      by: { family: '', given: '' },
    }));
    const reasons = await reasonsSince(db, who.school, who.book, 0);
    const slips = await workOutStatements(db, who, book, enrolments, write.moveRules, fresh);
    const now = await statementsOf(db, who.school, who.book, enrolments);
    let oldest = book.row.rulesVersion;
    const lines = slips.flatMap((s) => {
      const was = now.get(s.enrolment);
      const before = was ? standingOf(was) : { percent: null, letter: null };
      const after = standingOf(s.body);
      const byRules = s.moved !== null && changes(s);
      if (byRules) oldest = Math.min(oldest, s.moved!.rulesVersion);
      return shown(before) === shown(after) && !byRules ? [] : [{ enrolment: s.enrolment, before, after, byRules }];
    });
    return {
      lines,
      reasons: [...new Set(reasons.filter((r) => r.version > oldest && r.reason !== '').map((r) => r.reason))],
    };
  });
}
