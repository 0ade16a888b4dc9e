import { cellKeyOf } from '../../kernel/cells/cell';
import type pg from 'pg';
import { counted } from '@core/words/count';
import { canonical } from '@core/book/canonical';
import { snapshot, type Db } from '../../kernel/database';
import { type Author, commitBook, reasonsSince, assemble, type AssembledBook, type AssessmentRow } from '../books';
import { tellStudents } from '../notices';
import { Refusal } from '../../kernel/refusal';
import {
  writeStatements,
  standingOf,
  workOutStatements,
  type StatementStanding,
  type WorkedStatement,
} from './student-statement';
import { type Who } from '../../kernel/journal/sql/lines';
import { releasedTo, writeReleased, deleteReleased, statementsOf } from './sql/releases';
import type { Released, ReleasePreview, ReleasePreviewWrite, ReleaseWrite, WithdrawWrite } from '@contract/statements';

/** Releases one assessment to one, some or all: what each sees is written down in the same transaction. */
export function release(pool: pg.Pool, who: Author, write: ReleaseWrite): Promise<Released> {
  return commitBook(pool, who, write.operation, async (db) => {
    const { book, assessment, enrolments } = await begin(db, who, write);
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
    return {
      lines: enrolments.map((enrolment) => {
        const was = before.get(cellKeyOf({ assessment: assessment.id, enrolment }));
        return {
          kind: 'release',
          assessment: assessment.id,
          enrolment,
          was: was === undefined ? null : canonical(was),
          becomes: canonical(cells.get(enrolment)?.content ?? {}),
        };
      }),
      answer: ({ last }) => ({ people: enrolments.length, seq: last }),
    };
  });
}

/** Hides an assessment again at once. Those who never had it are left alone. */
export function withdraw(pool: pg.Pool, who: Author, write: WithdrawWrite): Promise<Released> {
  return commitBook(pool, who, write.operation, async (db) => {
    const { book, assessment, enrolments } = await begin(db, who, write);
    const had = await releasedTo(db, who.school, who.book, enrolments);
    const gone = await deleteReleased(db, who.school, who.book, assessment.id, enrolments, book.document.asOf);
    if (gone.length === 0)
      throw new Refusal(
        'bad-request',
        `${assessment.title} is not released to any of these students, so there was nothing to withdraw.`,
      );
    await writeStatements(db, who, book.document.asOf, await workOutStatements(db, who, book, gone, false));
    return {
      lines: gone.map((enrolment) => ({
        kind: 'withdraw',
        assessment: assessment.id,
        enrolment,
        was: canonical(had.find((h) => h.assessment === assessment.id && h.enrolment === enrolment)!.entry),
        becomes: null,
      })),
      answer: ({ last }) => ({ people: gone.length, seq: last }),
    };
  });
}

async function begin(
  db: Db,
  who: Who,
  write: { assessment: string; enrolments: string[] | null },
): Promise<{ book: AssembledBook; assessment: AssessmentRow; enrolments: string[] }> {
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
  const faulty = book.faulty.filter((f) => f.assessment === assessment.id && enrolments.includes(f.enrolment));
  if (faulty.length > 0)
    throw new Refusal(
      'bad-request',
      `${counted(faulty.length, 'cell', 'cells')} of ${assessment.title} cannot be read (${faulty[0]!.fault}). The ledger shows which; put them right first. Nothing was released.`,
    );
  return { book, assessment, enrolments };
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
  const byWords = new Map<string, string[]>();
  for (const s of slips.filter((x) => x.moved !== null && changes(x))) {
    const words = `Your standing is worked out by changed rules: ${shown(s.moved!.before)} becomes ${shown(standingOf(s.body))}.`;
    byWords.set(words, [...(byWords.get(words) ?? []), s.enrolment]);
  }
  for (const [words, enrolments] of byWords)
    await tellStudents(db, who.school, who.book, enrolments, why === '' ? words : `${words} Why: ${why}`);
}

const shown = (s: StatementStanding): string =>
  `${s.percent ?? 'no grade yet'}${s.letter === null ? '' : ` (${s.letter})`}`;
const changes = (s: WorkedStatement): boolean => shown(s.moved!.before) !== shown(standingOf(s.body));

/** Whose standing a release would change, and by what. Nothing is written. */
export function previewRelease(pool: pg.Pool, who: Who, write: ReleasePreviewWrite): Promise<ReleasePreview> {
  return snapshot(pool, async (db) => {
    const { book, assessment, enrolments } = await begin(db, who, write);
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
