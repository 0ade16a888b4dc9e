import { cellKeyOf } from '../../kernel/cells/cell';
import type pg from 'pg';
import { counted, listed } from '@core/words/count';
import { canonical } from '@core/book/canonical';
import { snapshot, type Db } from '../../kernel/database';
import {
  type Author,
  type Commit,
  commitBook,
  reasonsSince,
  assemble,
  type AssembledBook,
  type AssessmentRow,
} from '../books';
import { tellStudents } from '../notices';
import { Refusal } from '../../kernel/refusal';
import {
  writeStatements,
  standingOf,
  workOutStatements,
  type StatementStanding,
  type WorkedStatement,
} from './student-statement';
import type { BookTransaction } from '../../kernel/book-transaction';
import type { CellRow } from '../../kernel/cells/sql';
import type { LineContent, Who } from '../../kernel/journal/sql/lines';
import { feedbackPartsOf, releaseParts, withdrawParts, type PartsDone } from './release-parts';
import { digestsOf, readParts, type AssessmentParts } from './parts-to-release';
import { RELEASE_PARTS, type ReleasePart, type SeenSlip } from '@contract/slips';
import { tellSlips } from './sql/slip-traces';
import { releasedTo, writeReleased, deleteReleased, statementsOf } from './sql/releases';
import type { Released, ReleasePreview, ReleasePreviewWrite, ReleaseWrite, WithdrawWrite } from '@contract/statements';

/**
 * Releases one assessment to one, some or all, with the parts that are asked for: what each sees is written down in the
 * same transaction, and they are told.
 */
export function release(pool: pg.Pool, who: Author, write: ReleaseWrite): Promise<Released> {
  return commitBook(pool, who, write.operation, (db) => releaseIn(db, who, write));
}

/** The same within a transaction of the book. */
export async function releaseIn(db: BookTransaction, who: Author, write: ReleaseWrite): Promise<Commit<Released>> {
  const { also = [], ...first } = write;
  requireEachOnce([write, ...also]);
  const lines: LineContent[] = [];
  for (const one of [first, ...also])
    lines.push(...(await releaseOne(db, who, { ...first, assessment: one.assessment, enrolments: one.enrolments, seen: one.seen }))); // prettier-ignore
  if (lines.length === 0) {
    const { assessment } = await begin(db, who, write);
    const of = also.length === 0 ? assessment.title : counted(also.length + 1, 'assessment');
    throw new Refusal(
      'bad-request',
      `There is nothing new of ${of} for these students beside their scores. Nothing was released.`,
    );
  }
  return { lines, answer: ({ last }) => ({ people: peopleOf(lines), seq: last }) };
}

const peopleOf = (lines: readonly LineContent[]): number => new Set(lines.map((l) => l.enrolment)).size;

function requireEachOnce(all: readonly { assessment: string }[]): void {
  if (new Set(all.map((a) => a.assessment)).size < all.length)
    throw new Refusal('bad-request', 'An assessment is named twice. Nothing was changed.');
}

/** One assessment of a release; no lines: there is nothing of it. */
async function releaseOne(db: BookTransaction, who: Author, write: Omit<ReleaseWrite, 'also'>): Promise<LineContent[]> {
  const { book, assessment, enrolments } = await begin(db, who, write);
  const parts = write.parts ?? RELEASE_PARTS;
  const cells = new Map(book.cells.filter((c) => c.assessment === assessment.id).map((c) => [c.enrolment, c]));
  const at = book.document.asOf;
  const now = await readParts(db, { school: who.school, book: who.book, assessment: assessment.id });
  if (write.seen) requireSeen(now, { enrolments, cells }, parts, write.seen);
  const scores = parts.includes('score') ? await releaseScores(db, who, { book, assessment, enrolments, cells }, write.moveRules) : NONE; // prettier-ignore
  const beside = await releaseParts(
    db,
    who,
    { assessment: assessment.id, at, enrolments, cells },
    feedbackPartsOf(parts),
    now,
    write.comment?.trim(),
  );
  const lines = [...scores.lines, ...beside.lines];
  if (lines.length === 0) return lines;
  await tell(db, who, { book, assessment }, told(enrolments, scores, beside), write.tell?.trim() ?? '');
  await tellSlips(db, { ...who, assessment: assessment.id }, at);
  return lines;
}

/** Refuses where something that would be released is another than what was looked at. */
function requireSeen(
  now: AssessmentParts,
  of: { enrolments: readonly string[]; cells: ReadonlyMap<string, CellRow> },
  parts: readonly ReleasePart[],
  seen: readonly SeenSlip[],
): void {
  const looked = new Map(seen.map((s) => [s.enrolment, s]));
  const others = of.enrolments.filter((enrolment) => {
    const cell = of.cells.get(enrolment);
    const digests = digestsOf(cell, now.of(enrolment, cell));
    return parts.some((part) => looked.get(enrolment)?.[part] !== digests[part]);
  });
  if (others.length > 0)
    throw new Refusal(
      'stale',
      `Something of ${counted(others.length, 'student')} became another after you looked. Nothing was released; look again.`,
    );
}

interface ScoresDone {
  lines: LineContent[];
  /** Those who see another score, or see it at all, than before. */
  changed: Set<string>;
  statements: WorkedStatement[];
}
const NONE: ScoresDone = { lines: [], changed: new Set(), statements: [] };

async function releaseScores(
  db: BookTransaction,
  who: Who,
  of: { book: AssembledBook; assessment: AssessmentRow; enrolments: string[]; cells: ReadonlyMap<string, CellRow> },
  moveRules: boolean,
): Promise<ScoresDone> {
  const { book, assessment, enrolments, cells } = of;
  const before = new Map(
    (await releasedTo(db, who.school, who.book, enrolments)).map((r) => [cellKeyOf(r), canonical(r.entry)]),
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
  const statements = await workOutStatements(db, who, book, enrolments, moveRules);
  await writeStatements(db, who, book.document.asOf, statements);
  const lines = enrolments.map((enrolment): LineContent => ({
    kind: 'release',
    assessment: assessment.id,
    enrolment,
    was: before.get(cellKeyOf({ assessment: assessment.id, enrolment })) ?? null,
    becomes: canonical(cells.get(enrolment)?.content ?? {}),
  }));
  // Of nothing, released for the first time, there is nothing to read.
  const says = (l: LineContent): boolean => l.was !== l.becomes && !(l.was === null && l.becomes === '{}');
  const changed = new Set(lines.flatMap((l) => (says(l) ? [l.enrolment!] : [])));
  return { lines, changed, statements };
}

/** Hides assessments again at once, or parts of them. Those who never had them are left alone. */
export function withdraw(pool: pg.Pool, who: Author, write: WithdrawWrite): Promise<Released> {
  return commitBook(pool, who, write.operation, async (db) => {
    const { also = [], ...first } = write;
    requireEachOnce([write, ...also]);
    const lines: LineContent[] = [];
    for (const one of [first, ...also]) lines.push(...(await withdrawOne(db, who, one, write.parts ?? RELEASE_PARTS)));
    if (lines.length === 0) {
      const { assessment } = await begin(db, who, write);
      const of = also.length === 0 ? `${assessment.title} is not` : 'None of these assessments is';
      throw new Refusal('bad-request', `${of} released to any of these students, so there was nothing to withdraw.`);
    }
    return { lines, answer: ({ last }) => ({ people: peopleOf(lines), seq: last }) };
  });
}

async function withdrawOne(
  db: BookTransaction,
  who: Author,
  of: { assessment: string; enrolments: string[] | null },
  parts: readonly ReleasePart[],
): Promise<LineContent[]> {
  const { book, assessment, enrolments } = await begin(db, who, of);
  const at = book.document.asOf;
  const lines: LineContent[] = [];
  if (parts.includes('score')) {
    const had = await releasedTo(db, who.school, who.book, enrolments);
    const gone = await deleteReleased(db, who.school, who.book, assessment.id, enrolments, at);
    await writeStatements(db, who, at, await workOutStatements(db, who, book, gone, false));
    for (const enrolment of gone)
      lines.push({
        kind: 'withdraw',
        assessment: assessment.id,
        enrolment,
        was: canonical(had.find((h) => h.assessment === assessment.id && h.enrolment === enrolment)!.entry),
        becomes: null,
      });
  }
  const place = { assessment: assessment.id, at, enrolments };
  lines.push(...(await withdrawParts(db, who, place, feedbackPartsOf(parts))).lines);
  if (lines.length > 0) await tellSlips(db, { ...who, assessment: assessment.id }, at);
  return lines;
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

/** Who sees something otherwise than before, and of which parts. */
function told(enrolments: readonly string[], scores: ScoresDone, beside: PartsDone): ToldStudent[] {
  const statements = new Map(scores.statements.map((s) => [s.enrolment, s]));
  return enrolments.flatMap((enrolment) => {
    const parts = [
      ...(scores.changed.has(enrolment) ? ['score' as const] : []),
      ...(beside.changed.get(enrolment) ?? []),
    ];
    return [{ enrolment, parts, statement: statements.get(enrolment) ?? null }];
  });
}

interface ToldStudent {
  enrolment: string;
  parts: ReleasePart[];
  statement: WorkedStatement | null;
}

/**
 * Tells each once: that there is something to read, and where the rules have moved their standing, that too, with why in
 * the words of the person who releases.
 */
async function tell(
  db: Db,
  who: Who,
  { book, assessment }: { book: AssembledBook; assessment: AssessmentRow },
  students: readonly ToldStudent[],
  why: string,
): Promise<void> {
  const byWords = new Map<string, string[]>();
  for (const { enrolment, parts, statement: s } of students) {
    const came = parts.length > 0 ? `${assessment.title} came back to you: ${listed(parts)}.` : '';
    const moved =
      book.row.showsStanding && s !== null && s.moved !== null && changes(s)
        ? `Your standing is worked out by changed rules: ${shown(s.moved.before)} becomes ${shown(standingOf(s.body))}.${why === '' ? '' : ` Why: ${why}`}`
        : '';
    const words = [came, moved].filter(Boolean).join(' ');
    if (words !== '') byWords.set(words, [...(byWords.get(words) ?? []), enrolment]);
  }
  for (const [text, enrolments] of byWords)
    await tellStudents(db, who.school, who.book, enrolments, { text, slip: assessment.id });
}

const shown = (s: StatementStanding): string =>
  `${s.percent ?? 'no grade yet'}${s.letter === null ? '' : ` (${s.letter})`}`;
const changes = (s: WorkedStatement): boolean => shown(s.moved!.before) !== shown(standingOf(s.body));

/** Whose standing a release would change, and by what. Nothing is written. */
export function previewRelease(pool: pg.Pool, who: Who, write: ReleasePreviewWrite): Promise<ReleasePreview> {
  return snapshot(pool, async (db) => {
    const { also = [], ...first } = write;
    const begun = [];
    for (const one of [first, ...also]) begun.push(await begin(db, who, one));
    const { book } = begun[0]!;
    const cells = new Map(book.cells.map((c) => [cellKeyOf(c), c]));
    const fresh = begun.flatMap(({ assessment, enrolments }) =>
      enrolments.map((enrolment) => ({
        enrolment,
        assessment: assessment.id,
        entry: cells.get(cellKeyOf({ assessment: assessment.id, enrolment }))?.content ?? {},
        releasedAt: book.document.asOf,
        by: { family: '', given: '' },
      })),
    );
    const enrolments = [...new Set(fresh.map((f) => f.enrolment))];
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
