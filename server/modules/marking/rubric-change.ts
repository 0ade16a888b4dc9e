import type pg from 'pg';
import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import type { EntryContent } from '@core/book/change';
import { carryMark, criterionChange } from '@core/rubric/carry';
import { checkRubric } from '@core/rubric/check-rubric';
import type { Criterion, CriterionMark, Rubric, RubricMarks } from '@core/rubric/document';
import { differsFrom } from '@core/rubric/rubric-score';
import { givenScore, isOverridden } from '@core/rubric/score-change';
import type { RubricMove, RubricPage, RubricState, RubricTrial, RubricWrite } from '@contract/work/marking';
import { emptyCell, cellKeyOf, type WantedCell } from '../../kernel/cells/cell';
import type { CellRow } from '../../kernel/cells/sql';
import type { Db } from '../../kernel/database';
import type { LineContent } from '../../kernel/journal/sql/lines';
import { Refusal } from '../../kernel/refusal';
import { commitBook, enrolledAmong, type AssessmentRow, type Author } from '../books';
import { changeCells, currentCells } from '../scores';
import { levelsLine, requireAssessment } from './levels';
import { criterionMarksOf, putCriterionMarks, renameRubric, type CriterionMarkRow, type CriterionMarkWrite } from './sql/criterion-marks'; // prettier-ignore
import { insertRubric, NO_RUBRIC, rubricsOf, type AssessmentPlace } from './sql/rubrics';
import { worksOf } from './works';

export async function rubricPage(db: Db, p: AssessmentPlace): Promise<RubricPage> {
  await requireAssessment(db, p);
  const [now = NO_RUBRIC, ...earlier] = await rubricsOf(db, p);
  return { now, earlier };
}

/** Refuses what nothing could be marked by. */
function requireSound(rubric: Rubric, { points, title }: AssessmentRow): void {
  const problems = checkRubric(rubric);
  if (problems.length > 0)
    throw new Refusal('bad-request', `${problems[0]!.message} Nothing was changed.`, {
      errors: problems.slice(0, 100).map(({ pointer, message }) => ({ pointer: `/rubric${pointer}`, detail: message })),
    });
  if (differsFrom(rubric, points))
    throw new Refusal(
      'bad-request',
      `Its criteria do not make the ${points} points of ${title}. Bring their sum to ${points}, or change the points first. Nothing was changed.`,
      { errors: [{ pointer: '/rubric/scaled', detail: 'the criteria make other points than the assessment has' }] },
    );
}

/** Marks of one piece of work, as they are and as they become. */
interface Carried {
  enrolment: string;
  /** Whoever left the book: what they were given is carried too, and their score stays. */
  left: boolean;
  work: string;
  attempt: number | null;
  cell: CellRow;
  marks: { criterion: Criterion; row: CriterionMarkRow; becomes: CriterionMark; gone: boolean; changed: boolean }[];
  before: number | null;
  after: number | null;
}

/** Every piece of work that was marked, carried from the version it was marked by into another rubric. */
async function carryAll(
  db: Db,
  p: AssessmentPlace,
  { points }: AssessmentRow,
  versions: readonly RubricState[],
  to: Rubric,
): Promise<Carried[]> {
  const byVersion = new Map(versions.map((v) => [v.version, v.rubric]));
  const rows = (await criterionMarksOf(db, p)).filter((r) => r.mark !== null);
  const here = await enrolledAmong(db, p.school, p.book, [...new Set(rows.map((r) => r.enrolment))]);
  const works = await worksOf(db, p);
  const places = [...here].map((enrolment) => ({ assessment: p.assessment, enrolment }));
  const cells = await currentCells(db, p.school, p.book, places);
  const groups = new Map<string, CriterionMarkRow[]>();
  for (const r of rows) groups.set(`${r.enrolment} ${r.work}`, [...(groups.get(`${r.enrolment} ${r.work}`) ?? []), r]);
  return [...groups.values()].map((all): Carried => {
    const { enrolment, work } = all[0]!;
    const place = { assessment: p.assessment, enrolment };
    const cell = cells.get(cellKeyOf(place)) ?? emptyCell(place);
    const latest = versions[0]?.version ?? 0;
    const marks = all.flatMap((row) => {
      const from = byVersion.get(row.rubric)?.criteria.find((c) => c.id === row.criterion);
      const criterion = to.criteria.find((c) => c.id === row.criterion);
      if (!from || !criterion || row.mark === null) return [];
      const { mark: becomes, gone } = carryMark(from, criterion, row.mark);
      return [{ criterion, row, becomes, gone, changed: criterionChange(from, criterion) !== null }];
    });
    const now = byVersion.get(latest) ?? null;
    const standing = all.filter((r) => r.rubric === latest);
    return {
      ...{ enrolment, work, cell, marks, left: !here.has(enrolment) },
      attempt: works(enrolment).attemptOf(work, cell.content.attempts?.length ?? 0),
      before: now && givenScore(now, toMarks(standing.map((r) => [r.criterion, r.mark!])), points),
      after: givenScore(to, toMarks(marks.map((m) => [m.row.criterion, m.becomes])), points),
    };
  });
}

const toMarks = (pairs: [string, CriterionMark][]): RubricMarks => Object.fromEntries(pairs);

/** The score of the attempt that a piece of work is, and whether something else stands in the place of its sum. */
function standing({ cell, attempt, before, left }: Carried): { score: number | null; held: boolean } {
  const { content } = cell;
  const all = content.attempts ?? [];
  const score = attempt === null ? undefined : all[attempt - 1]?.score;
  const held = attempt === null || (attempt >= all.length ? isOverridden(content, before) : score !== before);
  // A score that was taken away stays away.
  return { score: score ?? null, held: left || held || (before !== null && score === undefined) };
}

function moveOf(c: Carried): RubricMove {
  const { score, held } = standing(c);
  return {
    ...{ enrolment: c.enrolment, work: c.work, from: score, to: held ? score : c.after, held },
    released: c.cell.releaseState !== 0,
    criteria: c.marks.filter((m) => m.changed).map((m) => m.row.criterion),
    gone: c.marks.filter((m) => m.gone).map((m) => m.row.criterion),
  };
}

/** Those whose score moves, or whose work a change concerns. */
const movesOf = (carried: readonly Carried[]): RubricMove[] =>
  carried
    .filter((c) => !c.left)
    .map(moveOf)
    .filter((m) => m.from !== m.to || m.criteria.length > 0);
const fingerprintOf = (moves: readonly RubricMove[]): string =>
  createHash('sha256').update(canonical(moves)).digest('hex');

/** Whose score a changed rubric would move, and how, and whose work it concerns. */
export async function tryRubric(db: Db, p: AssessmentPlace, rubric: Rubric | null): Promise<RubricTrial> {
  const assessment = await requireAssessment(db, p);
  if (rubric === null) return { trial: fingerprintOf([]), moves: [] };
  requireSound(rubric, assessment);
  const moves = movesOf(await carryAll(db, p, assessment, await rubricsOf(db, p), rubric));
  return { trial: fingerprintOf(moves), moves };
}

/** A cell with another score of one of its attempts. */
function withScore(content: EntryContent, attempt: number, score: number): EntryContent {
  const attempts = content.attempts!.map((a, n) => (n === attempt - 1 ? { ...a, score } : a));
  return { ...content, attempts };
}

/**
 * Writes what an assessment is marked by. What was marked is carried over, and scores that followed their levels follow
 * them; who moves must be what was shown (`trial`).
 */
export function writeRubric(
  pool: pg.Pool,
  author: Author,
  assessmentId: string,
  write: RubricWrite,
): Promise<RubricPage> {
  const p: AssessmentPlace = { school: author.school, book: author.book, assessment: assessmentId };
  return commitBook(pool, author, write.operation, async (db) => {
    const assessment = await requireAssessment(db, p);
    const versions = await rubricsOf(db, p);
    const was = versions[0] ?? NO_RUBRIC;
    if (was.version !== write.version)
      throw new Refusal('stale', 'Somebody else changed this rubric after you saw it. Yours stays here; look at theirs first.', { now: await rubricPage(db, p) }); // prettier-ignore
    if (canonical(was.rubric) === canonical(write.rubric)) return { lines: [], answer: () => rubricPage(db, p) };
    const version = was.version + 1;
    const { rubric } = write;
    const lines: LineContent[] = [rubricLine(p, was, { version, rubric })];
    if (rubric !== null) {
      requireSound(rubric, assessment);
      const carried = await carryAll(db, p, assessment, versions, rubric);
      const moves = movesOf(carried);
      if (moves.length > 0 && fingerprintOf(moves) !== write.trial)
        throw new Refusal('stale', 'What this changes is not what was shown: work was marked meanwhile. Look again; nothing was changed.', { now: await rubricPage(db, p) }); // prettier-ignore
      lines.push(...(await writeCarried(db, author, p, version, carried)));
      await renameRubric(db, p, version, rubric.criteria.map((c) => c.id)); // prettier-ignore
    }
    await insertRubric(db, p, { version, rubric, person: author.person });
    return {
      lines,
      set: { kind: 'change', title: assessment.title },
      answer: () => rubricPage(db, p),
    };
  });
}

const isOther = ({ row, becomes }: Carried['marks'][number]): boolean => canonical(row.mark) !== canonical(becomes);

/** Writes marks that are worth something else now and the scores that follow; gives their lines. */
async function writeCarried(
  db: Parameters<typeof putCriterionMarks>[0],
  author: Author,
  p: AssessmentPlace,
  version: number,
  carried: readonly Carried[],
): Promise<LineContent[]> {
  const lines: LineContent[] = [];
  const wanted = new Map<string, WantedCell>();
  for (const c of carried) {
    const other = c.marks.filter(isOther);
    const next = other.map(({ row, becomes }): CriterionMarkWrite => {
      const { enrolment, work, criterion } = row;
      return { enrolment, work, criterion, version: row.version + 1, rubric: version, mark: becomes };
    });
    await putCriterionMarks(db, p, author.person, next);
    if (next.length > 0)
      lines.push(levelsLine(p, c.enrolment, { work: c.work, rubric: version }, other.map((m) => m.row), next)); // prettier-ignore
    const { from, to } = moveOf(c);
    if (from === to || to === null || c.attempt === null) continue;
    const before = wanted.get(c.enrolment)?.change;
    const content = before?.kind === 'put' ? before.entry : c.cell.content;
    const entry = withScore(content, c.attempt, to);
    wanted.set(c.enrolment, { assessment: p.assessment, enrolment: c.enrolment, version: c.cell.version, change: { kind: 'put', entry } }); // prettier-ignore
  }
  if (wanted.size > 0) lines.push(...(await changeCells(db, author, [...wanted.values()])).lines);
  return lines;
}

const hashOf = (rubric: Rubric | null): { sha256?: string } =>
  rubric === null ? {} : { sha256: createHash('sha256').update(canonical(rubric)).digest('hex') };

const rubricLine = (
  p: AssessmentPlace,
  was: RubricState,
  is: { version: number; rubric: Rubric | null },
): LineContent => ({
  ...{ kind: 'rubric', assessment: p.assessment, enrolment: null },
  was: was.version === 0 ? null : canonical({ version: was.version, ...hashOf(was.rubric) }),
  becomes: canonical({ version: is.version, ...hashOf(is.rubric) }),
});
