import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import { isMarkedInPart } from '@core/rubric/given-levels';
import type { Rubric } from '@core/rubric/document';
import type { ReleasedFeedback, ReleasedRubric, SlipDigests, SlipFile, SlipWork } from '@contract/slips';
import type { CellRow } from '../../kernel/cells/sql';
import type { Db } from '../../kernel/database';
import { personName } from '../accounts';
import { feedbackOf, type AssessmentFeedback } from '../feedback';
import { levelsToGive, marksOf, workInHand, worksOf, type Works } from '../marking';
import { marksToGive } from '../work-marks';

/** Rubric and feedback of one student as they would be released now, as canonical text; null: there is nothing of it. */
export interface PartsToRelease {
  rubric: string | null;
  feedback: string | null;
}

/** A digest of what would be released; of nothing too. */
const digestOf = (text: string | null): string =>
  createHash('sha256')
    .update(text ?? '')
    .digest('hex')
    .slice(0, 16);

/** What whoever releases has looked at. */
export const digestsOf = (cell: CellRow | undefined, parts: PartsToRelease): SlipDigests => ({
  score: digestOf(canonical(cell?.content ?? {})),
  rubric: digestOf(parts.rubric),
  feedback: digestOf(parts.feedback),
});

/** The same, with what staff want to know of it. */
export interface PartsNow extends PartsToRelease {
  /** Some criteria of the work in hand are given something, and others nothing. */
  inPart: boolean;
  /** Nothing is given by any criterion. */
  unmarked: boolean;
  /** When the end note was written last, by whom. */
  written: { person: string; at: string }[];
}

const toSlipFile = (f: AssessmentFeedback['attachments'][number]): SlipFile => {
  const { id, name, bytes, mediaType, seconds, waveform } = f;
  return { ...{ id, name, bytes, mediaType, seconds, waveform }, sha256: f.sha256!, purpose: f.purpose as 'given' };
};

function groups<T>(rows: readonly T[], key: (row: T) => string): Map<string, T[]> {
  const out = new Map<string, T[]>();
  for (const row of rows) {
    const list = out.get(key(row));
    if (list) list.push(row);
    else out.set(key(row), [row]);
  }
  return out;
}

/** Reads all that stands beside the scores of one assessment; gives what of it each student would be released. */
export async function readParts(
  db: Db,
  p: { school: string; book: string; assessment: string },
): Promise<{ rubric: Rubric | null; of: (enrolment: string, cell: CellRow | undefined) => PartsNow }> {
  const feedback = await feedbackOf(db, p);
  const marks = groups(await marksToGive(db, p), (m) => m.enrolment);
  const levels = await levelsToGive(db, p);
  const rows = groups(levels?.rows ?? [], (r) => r.enrolment);
  const notes = groups(feedback.notes, (n) => n.enrolment);
  const files = groups(feedback.attachments, (f) => f.enrolment ?? '');
  const everybody = (files.get('') ?? []).map(toSlipFile);
  const works = await worksOf(db, p);
  return {
    rubric: levels?.rubric ?? null,
    of(enrolment, cell) {
      const attempts = cell?.content.attempts ?? [];
      const own = works(enrolment);
      const at = attemptOf(own, attempts.length);
      const given = (work: string): SlipWork => {
        const [note, onIt, beside] = [
          notes.get(enrolment)?.find((n) => n.work === work),
          (marks.get(enrolment) ?? []).filter((m) => m.submission === work),
          (files.get(enrolment) ?? []).filter((f) => f.work === work),
        ];
        const by = [...(note ? [note.by] : []), ...onIt.map((m) => m.by), ...beside.map((f) => personName(f))];
        return {
          ...{ work, attempt: at(work)!, receivedAt: attempts[at(work)! - 1]?.receivedAt ?? null },
          by: [...new Set(by)],
          note: note?.text ?? null,
          marks: onIt.map(({ id, leaf, mark, by: who }) => ({
            id,
            leaf,
            mark: { ...mark } as SlipWork['marks'][number]['mark'],
            by: who,
          })),
          files: beside.map(toSlipFile),
        };
      };
      const named = [
        ...(notes.get(enrolment) ?? []).map((n) => n.work),
        ...(marks.get(enrolment) ?? []).map((m) => m.submission),
        ...(files.get(enrolment) ?? []).map((f) => f.work!),
      ];
      const said = latestFirst([...new Set(named)].filter((w) => at(w) !== null).map(given));
      const body: ReleasedFeedback = { works: said, everybody };
      const mine = groups(rows.get(enrolment) ?? [], (r) => r.work);
      const inHand = marksOf(mine.get(workInHand(own, attempts.length)) ?? []);
      const byWork = latestFirst(
        [...mine].flatMap(([work, list]) => {
          const attempt = at(work);
          if (attempt === null) return [];
          const [by, given] = [
            [...new Set(list.map((r) => r.by))],
            list.map(({ criterion, mark }) => ({ criterion, mark })),
          ];
          return [{ work, attempt, by, marks: given }];
        }),
      );
      const rubric: ReleasedRubric | null =
        levels && byWork.length > 0 ? { rubric: levels.rubric, works: byWork } : null;
      return {
        rubric: rubric && canonical(rubric),
        feedback: said.length > 0 || everybody.length > 0 ? canonical(body) : null,
        inPart: levels !== null && isMarkedInPart(levels.rubric, inHand),
        unmarked: Object.keys(inHand).length === 0,
        written: (notes.get(enrolment) ?? []).map((n) => ({ person: n.person, at: n.changedAt })),
      };
    },
  };
}

/** Which attempt a piece of work is; null: none any more. */
const attemptOf =
  (works: Works, attempts: number) =>
  (work: string): number | null =>
    works.attemptOf(work, attempts);

const latestFirst = <T extends { attempt: number }>(works: T[]): T[] => works.toSorted((a, b) => b.attempt - a.attempt);
