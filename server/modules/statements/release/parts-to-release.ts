import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import { isMarkedInPart } from '@core/rubric/given-levels';
import type { Rubric } from '@core/rubric/document';
import type { Mark } from '@contract/work/marks';
import type { ReleasedFeedback, ReleasedRubric, SlipDigests, SlipFile, SlipLevels, SlipWork } from '@contract/slips';
import type { CellRow } from '../../../kernel/cells/sql';
import type { Db } from '../../../kernel/database';
import { groupBy } from '../../../kernel/group-by';
import { personName } from '../../accounts';
import { assessmentsNamed, momentOf } from '../../books';
import { feedbackOf, type AssessmentFeedback } from '../../feedback';
import { levelsToGive, marksOf, workInHand, worksOf } from '../../marking';
import { marksToGive } from '../../work-marks';

/** Rubric and feedback of one student as they would be released now, as canonical text; null: there is nothing of it. */
export interface PartsToRelease {
  rubric: string | null;
  feedback: string | null;
}

/** The same, with what staff want to know of it. */
export interface PartsNow extends PartsToRelease {
  /** Some criteria of the work in hand are given something, and others nothing. */
  inPart: boolean;
  /** Nothing is given by any criterion. */
  unmarked: boolean;
  /** How long ago, in milliseconds, end note, levels and marks on the work were written last, by whom. */
  written: { person: string; age: number }[];
}

/** What stands beside the scores of one assessment now, to be asked for each student with their cell. */
export interface AssessmentParts {
  rubric: Rubric | null;
  of(enrolment: string, cell: CellRow | undefined): PartsNow;
}

/** Feedback of which nothing is said to anybody alone. */
export const NO_FEEDBACK = canonical({ works: [], everybody: [] } satisfies ReleasedFeedback);

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

type Note = AssessmentFeedback['notes'][number];
type Attachment = AssessmentFeedback['attachments'][number];
type GivenMark = Awaited<ReturnType<typeof marksToGive>>[number];
type LevelRow = NonNullable<Awaited<ReturnType<typeof levelsToGive>>>['rows'][number];

/** What one student has, whatever attempt it is of. */
interface OwnParts {
  notes: readonly Note[];
  marks: readonly GivenMark[];
  attachments: readonly Attachment[];
  rows: readonly LevelRow[];
}

/** Reads all that stands beside the scores of one assessment. */
export async function readParts(
  db: Db,
  p: { school: string; book: string; assessment: string },
): Promise<AssessmentParts> {
  const [assessment] = await assessmentsNamed(db, p.school, p.book, [p.assessment]);
  const hidden = assessment?.work.markersHidden === true;
  const schoolNow = Date.parse(await momentOf(db, p.school));
  const feedback = await feedbackOf(db, p);
  const levels = await levelsToGive(db, p);
  const notes = groupBy(feedback.notes, (n) => n.enrolment);
  const marks = groupBy(await marksToGive(db, p), (m) => m.enrolment);
  const attachments = groupBy(feedback.attachments, (f) => f.enrolment ?? '');
  const rows = groupBy(levels?.rows ?? [], (r) => r.enrolment);
  const everybody = (attachments.get('') ?? []).map(toSlipFile);
  const works = await worksOf(db, p);
  const rubric = levels?.rubric ?? null;
  return {
    rubric,
    of(enrolment, cell) {
      const attempts = cell?.content.attempts ?? [];
      const own: OwnParts = {
        ...{ notes: notes.get(enrolment) ?? [], marks: marks.get(enrolment) ?? [] },
        ...{ attachments: attachments.get(enrolment) ?? [], rows: rows.get(enrolment) ?? [] },
      };
      const attemptOf = (work: string): number | null => works(enrolment).attemptOf(work, attempts.length);
      const receivedAt = (attempt: number): string | null => attempts[attempt - 1]?.receivedAt ?? null;
      const said = worksSaidOf(own, attemptOf, receivedAt).map((w) => (hidden ? withoutMarkers(w) : w));
      const given = levelsGiven(own.rows, attemptOf).map((l) => (hidden ? { ...l, by: [] } : l));
      const markers = hidden ? { markersHidden: true as const } : {};
      const inHand = workInHand(works(enrolment), attempts.length);
      const marksInHand = marksOf(own.rows.filter((r) => r.work === inHand));
      return {
        rubric:
          rubric && given.length > 0 ? canonical({ rubric, works: given, ...markers } satisfies ReleasedRubric) : null,
        feedback:
          said.length > 0 || everybody.length > 0
            ? canonical({ works: said, everybody, ...markers } satisfies ReleasedFeedback)
            : null,
        inPart: rubric !== null && isMarkedInPart(rubric, marksInHand),
        unmarked: Object.keys(marksInHand).length === 0,
        written: [
          ...[...own.notes, ...own.marks].map((n) => ({ person: n.person, age: Date.now() - Date.parse(n.changedAt) })),
          ...own.rows.map((r) => ({ person: r.person, age: schoolNow - Date.parse(r.at) })),
        ],
      };
    },
  };
}

/** What was said of each piece of work that is an attempt still, the latest first. */
function worksSaidOf(
  own: OwnParts,
  attemptOf: (work: string) => number | null,
  receivedAt: (attempt: number) => string | null,
): SlipWork[] {
  const named = [
    ...own.notes.map((n) => n.work),
    ...own.marks.map((m) => m.submission),
    ...own.attachments.map((f) => f.work!),
  ];
  return latestFirst(
    [...new Set(named)].flatMap((work): SlipWork[] => {
      const attempt = attemptOf(work);
      if (attempt === null) return [];
      const note = own.notes.find((n) => n.work === work);
      const marks = own.marks.filter((m) => m.submission === work);
      const files = own.attachments.filter((f) => f.work === work);
      const by = [...(note ? [note.by] : []), ...marks.map((m) => m.by), ...files.map((f) => personName(f))];
      return [
        {
          ...{ work, attempt, receivedAt: receivedAt(attempt), by: [...new Set(by)], note: note?.text ?? null },
          marks: marks.map((m) => ({ id: m.id, leaf: m.leaf, mark: m.mark as Mark, by: m.by })),
          files: files.map(toSlipFile),
        },
      ];
    }),
  );
}

/** The same with nobody named. */
const withoutMarkers = (work: SlipWork): SlipWork => ({
  ...work,
  by: [],
  marks: work.marks.map((m) => ({ ...m, by: '' })),
});

/** What each piece of work that is an attempt still was given, the latest first. */
function levelsGiven(rows: readonly LevelRow[], attemptOf: (work: string) => number | null): SlipLevels[] {
  return latestFirst(
    [...groupBy(rows, (r) => r.work)].flatMap(([work, list]): SlipLevels[] => {
      const attempt = attemptOf(work);
      if (attempt === null) return [];
      const marks = list.map(({ criterion, mark }) => ({ criterion, mark }));
      return [{ work, attempt, by: [...new Set(list.map((r) => r.by))], marks }];
    }),
  );
}

const toSlipFile = (f: Attachment): SlipFile => {
  const { id, name, bytes, mediaType, seconds, waveform } = f;
  return { ...{ id, name, bytes, mediaType, seconds, waveform }, sha256: f.sha256!, purpose: f.purpose as 'given' };
};

const latestFirst = <T extends { attempt: number }>(works: T[]): T[] => works.toSorted((a, b) => b.attempt - a.attempt);
