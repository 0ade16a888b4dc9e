import { cellKeyOf } from '../../../kernel/cells/cell';
import type pg from 'pg';
import { counted, listed } from '@core/words/count';
import { canonical } from '@core/book/canonical';
import { snapshot, type Db } from '../../../kernel/database';
import {
  type Author,
  type Commit,
  commitBook,
  reasonsSince,
  type AssembledBook,
  type AssessmentRow,
} from '../../books';
import { tellStudents } from '../../notices';
import { Refusal } from '../../../kernel/refusal';
import {
  writeStatements,
  standingOf,
  workOutStatements,
  type StatementStanding,
  type WorkedStatement,
} from '../student-statement';
import type { BookTransaction } from '../../../kernel/book-transaction';
import type { LineContent, Who } from '../../../kernel/journal/sql/lines';
import { feedbackPartsOf, releaseParts, type PartsDone } from './release-parts';
import { beginAt, peopleOf, titlesIn, type ReleasePlace } from './release-places';
import { digestsOf, readParts, type AssessmentParts } from './parts-to-release';
import { RELEASE_PARTS, type ReleasePart, type SeenSlip } from '@contract/slips';
import { tellSlips } from '../sql/slip-traces';
import { releasedTo, writeReleased, statementsOf } from '../sql/releases';
import type { Released, ReleasePreview, ReleasePreviewWrite, ReleaseWrite } from '@contract/statements';

/**
 * Releases assessments to one, some or all, with the parts that are asked for: what each sees is written down in the
 * same transaction, and they are told.
 */
export function release(pool: pg.Pool, who: Author, write: ReleaseWrite): Promise<Released> {
  return commitBook(pool, who, write.operation, (db) => releaseIn(db, who, write));
}

/** The same within a transaction of the book: what is released, then everybody's statement once, then they are told. */
export async function releaseIn(db: BookTransaction, who: Author, write: ReleaseWrite): Promise<Commit<Released>> {
  const asked = [write, ...(write.also ?? [])];
  const { book, places } = await beginAt(db, who, asked);
  const parts = write.parts ?? RELEASE_PARTS;
  const now: AssessmentParts[] = [];
  for (const [n, place] of places.entries()) {
    const found = await readParts(db, { school: who.school, book: who.book, assessment: place.assessment.id });
    const { seen } = asked[n]!;
    if (seen) requireSeen(found, place, parts, seen);
    now.push(found);
  }
  const scores = parts.includes('score') ? await releaseScores(db, who, { book, places }, write.moveRules) : null;
  const lines: LineContent[] = [];
  const untold = new Map((scores?.statements ?? []).map((s) => [s.enrolment, s]));
  for (const [n, place] of places.entries()) {
    const { enrolments, cells } = place;
    const beside = await releaseParts(
      db,
      who,
      { assessment: place.assessment.id, at: book.document.asOf, enrolments, cells },
      feedbackPartsOf(parts),
      now[n]!,
      write.comment?.trim(),
    );
    const own = [...(scores?.lines[n] ?? []), ...beside.lines];
    if (own.length === 0) continue;
    lines.push(...own);
    const students = told(place.enrolments, changedOf(scores?.lines[n] ?? []), untold, beside);
    await tell(db, who, { book, assessment: place.assessment }, students, write.tell?.trim() ?? '');
    // Of a standing that the rules have moved each is told once.
    for (const enrolment of place.enrolments) untold.delete(enrolment);
    await tellSlips(db, { ...who, assessment: place.assessment.id }, book.document.asOf);
  }
  if (lines.length === 0)
    throw new Refusal(
      'bad-request',
      `There is nothing new of ${titlesIn(places)} for these students beside their scores. Nothing was released.`,
    );
  return { lines, answer: ({ last }) => ({ people: peopleOf(lines), seq: last }) };
}

/** Refuses where something that would be released is another than what was looked at. */
function requireSeen(
  now: AssessmentParts,
  of: Pick<ReleasePlace, 'enrolments' | 'cells'>,
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
  /** By assessment, in the order in which they were asked for. */
  lines: LineContent[][];
  statements: WorkedStatement[];
}

async function releaseScores(
  db: BookTransaction,
  who: Who,
  { book, places }: { book: AssembledBook; places: readonly ReleasePlace[] },
  moveRules: boolean,
): Promise<ScoresDone> {
  const everybody = [...new Set(places.flatMap((p) => p.enrolments))];
  const before = new Map(
    (await releasedTo(db, who.school, who.book, everybody)).map((r) => [cellKeyOf(r), canonical(r.entry)]),
  );
  for (const { assessment, enrolments, cells } of places)
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
  const statements = await workOutStatements(db, who, book, everybody, moveRules);
  await writeStatements(db, who, book.document.asOf, statements);
  const lines = places.map(({ assessment, enrolments, cells }) =>
    enrolments.map((enrolment): LineContent => ({
      kind: 'release',
      assessment: assessment.id,
      enrolment,
      was: before.get(cellKeyOf({ assessment: assessment.id, enrolment })) ?? null,
      becomes: canonical(cells.get(enrolment)?.content ?? {}),
    })),
  );
  return { lines, statements };
}

/** Those who see another score, or see it at all, than before. Of nothing, released for the first time, there is nothing to read. */
const changedOf = (lines: readonly LineContent[]): Set<string> =>
  new Set(lines.flatMap((l) => (l.was !== l.becomes && !(l.was === null && l.becomes === '{}') ? [l.enrolment!] : [])));

/** Who sees something otherwise than before, and of which parts. */
function told(
  enrolments: readonly string[],
  changed: ReadonlySet<string>,
  statements: ReadonlyMap<string, WorkedStatement>,
  beside: PartsDone,
): ToldStudent[] {
  return enrolments.map((enrolment) => ({
    enrolment,
    parts: [...(changed.has(enrolment) ? ['score' as const] : []), ...(beside.changed.get(enrolment) ?? [])],
    statement: statements.get(enrolment) ?? null,
  }));
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
    const { book, places } = await beginAt(db, who, [write, ...(write.also ?? [])]);
    const fresh = places.flatMap(({ assessment, enrolments, cells }) =>
      enrolments.map((enrolment) => ({
        enrolment,
        assessment: assessment.id,
        entry: cells.get(enrolment)?.content ?? {},
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
