import type pg from 'pg';
import { canonical } from '@core/book/canonical';
import { markProblem } from '@core/rubric/check-rubric';
import type { CriterionMark, Rubric, RubricMarks } from '@core/rubric/document';
import { scoreChange } from '@core/rubric/score-change';
import type { LevelDraft, LevelsMade, LevelsWrite, Marking } from '@contract/work/marking';
import type { BookTransaction } from '../../kernel/book-transaction';
import { stateOf } from '../../kernel/cells/cell';
import { readCells } from '../../kernel/cells/sql';
import type { Db } from '../../kernel/database';
import type { LineContent } from '../../kernel/journal/sql/lines';
import { Refusal } from '../../kernel/refusal';
import { assessmentsNamed, commitBook, enrolledAmong, studentsOf, type AssessmentRow, type Author } from '../books';
import { changeCells, currentCells, requireReasonFor } from '../scores';
import { criterionMarksOf, putCriterionMarks, type CriterionMarkRow, type CriterionMarkWrite } from './sql/criterion-marks'; // prettier-ignore
import { rubricOf, type AssessmentPlace } from './sql/rubrics';
import { workInHand, worksOf } from './works';

export async function requireAssessment(db: Db, p: AssessmentPlace): Promise<AssessmentRow> {
  const [found] = await assessmentsNamed(db, p.school, p.book, [p.assessment]);
  if (!found) throw new Refusal('not-found', 'There is no such assessment in this book.');
  return found;
}

/** Marks by criterion, of those that are given something. */
export const marksOf = (rows: readonly Pick<CriterionMarkRow, 'criterion' | 'mark'>[]): RubricMarks =>
  Object.fromEntries(rows.flatMap((r) => (r.mark === null ? [] : [[r.criterion, r.mark]])));

const draftOf = (
  { assessment }: AssessmentPlace,
  { enrolment, work }: { enrolment: string; work: string },
  rubric: number,
  rows: readonly CriterionMarkRow[],
): LevelDraft => ({
  ...{ assessment, enrolment, work, rubric },
  marks: rows.map(({ criterion, version, mark, by, at }) => ({ criterion, version, mark, by, at })),
});

/** What everybody's work for an assessment was given so far, or one student's, by the rubric as it is now. */
export async function markingOf(db: Db, p: AssessmentPlace, enrolment: string | null = null): Promise<Marking> {
  await requireAssessment(db, p);
  const rubric = await rubricOf(db, p);
  const here = (await criterionMarksOf(db, p, enrolment)).filter((r) => r.rubric === rubric.version);
  const all = (await studentsOf(db, p.school, p.book)).map((s) => s.id);
  const students = enrolment === null ? all : all.filter((id) => id === enrolment);
  const works = await worksOf(db, p, enrolment);
  const cells = await readCells(db, p.school, p.book, { assessments: students.map(() => p.assessment), enrolments: students }); // prettier-ignore
  const attempts = new Map(cells.map((c) => [c.enrolment, c.content.attempts?.length ?? 0]));
  const drafts = new Map<string, CriterionMarkRow[]>();
  for (const r of here) drafts.set(`${r.enrolment} ${r.work}`, [...(drafts.get(`${r.enrolment} ${r.work}`) ?? []), r]);
  return {
    rubric,
    works: students.map((e) => ({ enrolment: e, work: workInHand(works(e), attempts.get(e) ?? 0) })),
    drafts: [...drafts.values()].map((rows) => draftOf(p, rows[0]!, rubric.version, rows)),
  };
}

/** The rubric as it is now, with what every piece of work was given by it; null: there is none. */
export async function levelsToGive(
  db: Db,
  p: AssessmentPlace,
): Promise<{ rubric: Rubric; rows: (CriterionMarkRow & { mark: CriterionMark })[] } | null> {
  const { rubric, version } = await rubricOf(db, p);
  if (rubric === null) return null;
  const given = (r: CriterionMarkRow): r is CriterionMarkRow & { mark: CriterionMark } =>
    r.mark !== null && r.rubric === version;
  return { rubric, rows: (await criterionMarksOf(db, p)).filter(given) };
}

/** What a line of the journal says of marks: those that changed, or that they are given nothing. */
export const levelsText = (
  of: { work: string; rubric: number },
  marks: readonly Pick<CriterionMarkRow, 'criterion' | 'mark'>[],
): string =>
  canonical({ work: of.work, rubric: of.rubric, marks: marks.map(({ criterion, mark }) => ({ criterion, mark })) });

export const levelsLine = (
  p: AssessmentPlace,
  enrolment: string,
  of: { work: string; rubric: number },
  was: readonly Pick<CriterionMarkRow, 'criterion' | 'mark'>[],
  is: readonly Pick<CriterionMarkRow, 'criterion' | 'mark'>[],
): LineContent => ({
  kind: 'levels',
  assessment: p.assessment,
  enrolment,
  was: levelsText(of, was),
  becomes: levelsText(of, is),
});

/**
 * Gives criteria of the work in hand, with the score that follows, in one operation. Each criterion is looked at by
 * itself: what somebody else gave another one meanwhile stays, and the sum is that of all.
 */
export function writeLevels(
  pool: pg.Pool,
  author: Author,
  place: { assessment: string; enrolment: string },
  write: LevelsWrite,
): Promise<LevelsMade> {
  const { school, book } = author;
  const p: AssessmentPlace = { school, book, assessment: place.assessment };
  const { enrolment } = place;
  return commitBook(pool, author, write.operation, async (db) => {
    const assessment = await requireAssessment(db, p);
    if (!(await enrolledAmong(db, school, book, [enrolment])).has(enrolment))
      throw new Refusal('not-found', 'There is no such student in this book.');
    const state = await rubricOf(db, p);
    const { rubric } = state;
    const [cell] = [...(await currentCells(db, school, book, [place])).values()];
    const rows = (await criterionMarksOf(db, p, enrolment)).filter((r) => r.rubric === state.version);
    const draft = rows.filter((r) => r.work === write.work);
    const stale = (why: string): Refusal =>
      new Refusal('stale', why, {
        now: { draft: draftOf(p, { enrolment, work: write.work }, state.version, draft), cell: stateOf(cell!, 0) },
      });
    if (rubric === null || state.version !== write.rubric)
      throw stale('The rubric was changed after you saw it. This was not kept; look at the rubric as it is now.');
    const works = (await worksOf(db, p, enrolment))(enrolment);
    if (workInHand(works, cell!.content.attempts?.length ?? 0) !== write.work)
      throw stale('Another attempt came after this one: levels are given to the last. This was not kept.');
    const kept = new Map(draft.map((r) => [r.criterion, r]));
    const next = write.marks.map((m): CriterionMarkWrite => {
      const criterion = rubric.criteria.find((c) => c.id === m.criterion);
      if (!criterion) throw new Refusal('bad-request', 'The rubric has no such criterion. Nothing was changed.');
      const problem = m.mark === null ? '' : markProblem(criterion, m.mark);
      if (problem) throw new Refusal('bad-request', `${problem} Nothing was changed.`);
      const now = kept.get(m.criterion);
      if ((now?.version ?? 0) !== m.version)
        throw stale(`Somebody else marked ${criterion.title} after you saw it. Theirs stands; choose which is right.`);
      return { enrolment, work: write.work, criterion: m.criterion, version: m.version + 1, rubric: state.version, mark: m.mark }; // prettier-ignore
    });
    if (new Set(next.map((m) => m.criterion)).size !== next.length)
      throw new Refusal('bad-request', 'A criterion is named twice in what was sent. Nothing was changed.');
    const before = marksOf(draft);
    const after = marksOf([...new Map([...draft, ...next].map((r) => [r.criterion, r])).values()]);
    const follows = scoreChange(rubric, { before, after }, assessment.points, cell!.content, write.sum);
    if (follows === 'ask' || (write.sum === 'follow' && write.cell !== cell!.version))
      throw stale('A score was typed that the levels do not make. Say whether their sum takes its place.');
    const cellLines: LineContent[] = [];
    const lines: LineContent[] = [];
    let now = cell!;
    if (follows.change !== null) {
      const wanted = [{ ...place, version: cell!.version, change: follows.change }];
      await requireReasonFor(db, author, wanted, undefined);
      const changed = await changeCells(db, author, wanted);
      now = changed.cells[0]!;
      cellLines.push(...changed.lines);
    }
    if (next.length > 0) {
      await putCriterionMarks(db, p, author.person, next);
      const was = next.map((m) => ({ criterion: m.criterion, mark: kept.get(m.criterion)?.mark ?? null }));
      lines.push(levelsLine(p, enrolment, { work: write.work, rubric: state.version }, was, next));
    }
    // First what was done, then what followed of it: the journal calls it by its first line.
    lines.push(...cellLines);
    return {
      lines,
      ...(lines.length > 1 ? { set: { kind: 'change', title: '' } } : {}),
      answer: async ({ last }) => ({
        draft: await draftNow(db, p, { enrolment, work: write.work }, state.version),
        cell: stateOf(now, last),
      }),
    };
  });
}

async function draftNow(
  db: BookTransaction,
  p: AssessmentPlace,
  of: { enrolment: string; work: string },
  version: number,
): Promise<LevelDraft> {
  const rows = await criterionMarksOf(db, p, of.enrolment);
  const marks = rows.filter((r) => r.work === of.work && r.rubric === version);
  return draftOf(p, of, version, marks);
}
