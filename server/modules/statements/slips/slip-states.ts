import { UNFINISHED, type PartState, type SlipState, type SlipStates, type Unfinished } from '@contract/slips';
import { readCells, type CellRow } from '../../../kernel/cells/sql';
import type { Db } from '../../../kernel/database';
import { Refusal } from '../../../kernel/refusal';
import { staffNotesOf, WHOLE_STUDENT } from '../../annotations';
import { assessmentsNamed, studentsOf } from '../../books';
import { slipPath } from '../../notices';
import { digestsOf, NO_FEEDBACK, readParts, type PartsNow } from '../release/parts-to-release';
import { releasedPartsOf, type FeedbackPart, type ReleasedPart } from '../sql/released-parts';
import { deliveriesOf } from '../sql/slip-traces';

/** Milliseconds after which what a colleague gave or wrote is taken as done. */
const RESTED = 600_000;

const SCORE: readonly PartState[] = ['draft', 'released', 'changed'];

function scoreState(cell: CellRow | undefined): PartState {
  if (!cell) return 'none';
  const { attempts = [], set, state } = cell.content;
  const says = attempts.some(isScored) || set !== undefined || state === 'excused' || state === 'missing';
  return cell.releaseState === 0 && !says ? 'none' : SCORE[cell.releaseState]!;
}

function partState(now: string | null, out: ReleasedPart | undefined): PartState {
  if (!out) return now === null ? 'none' : 'draft';
  // What was said to everybody alone says nothing of the work.
  const same = now === out.body || (now === null && out.comment !== '' && out.body === NO_FEEDBACK);
  return same ? 'released' : 'changed';
}

/** Where everybody's slip of one assessment stands: what they see, what looks unfinished, what became of it. */
export async function slipStates(
  db: Db,
  p: { school: string; book: string; assessment: string },
  reader: string,
): Promise<SlipStates> {
  const [assessment] = await assessmentsNamed(db, p.school, p.book, [p.assessment]);
  if (!assessment) throw new Refusal('not-found', 'There is no such assessment in this book.');
  const students = (await studentsOf(db, p.school, p.book)).map((s) => s.id);
  const cells = await readCells(db, p.school, p.book, {
    assessments: students.map(() => p.assessment),
    enrolments: students,
  });
  const byStudent = new Map(cells.map((c) => [c.enrolment, c]));
  const now = await readParts(db, p);
  const out = new Map((await releasedPartsOf(db, p)).map((r) => [`${r.enrolment} ${r.part}`, r]));
  const deliveries = new Map((await deliveriesOf(db, p, slipPath(p.book, p.assessment))).map((d) => [d.enrolment, d]));
  const seconds = new Set(
    (await staffNotesOf(db, p.school, p.book)).flatMap((n) =>
      n.secondLookBy !== null && (n.place === p.assessment || n.place === WHOLE_STUDENT) ? [n.enrolment] : [],
    ),
  );
  const fresh = students.map((enrolment) => now.of(enrolment, byStudent.get(enrolment)));
  const someFeedback = fresh.some((f) => f.feedback !== null);
  return {
    rubric: now.rubric !== null,
    students: students.map((enrolment, n): SlipState => {
      const cell = byStudent.get(enrolment);
      const part = (name: FeedbackPart): PartState => partState(fresh[n]![name], out.get(`${enrolment} ${name}`));
      const d = deliveries.get(enrolment);
      return {
        ...{ enrolment, score: scoreState(cell), rubric: part('rubric'), feedback: part('feedback') },
        now: digestsOf(cell, fresh[n]!),
        unfinished: unfinishedOf(cell, fresh[n]!, {
          ...{ reader, someFeedback, rubric: now.rubric !== null, second: seconds.has(enrolment) },
        }),
        releasedAt: d?.releasedAt ?? null,
        ...{ told: d?.told ?? null, mailed: d?.mailed ?? null },
        ...{ opened: d?.opened ?? null, played: d?.played ?? null, fetched: d?.fetched ?? null },
      };
    }),
  };
}

function unfinishedOf(
  cell: CellRow | undefined,
  now: PartsNow,
  of: { reader: string; someFeedback: boolean; rubric: boolean; second: boolean },
): Unfinished[] {
  const attempts = cell?.content.attempts ?? [];
  const scored = attempts.some(isScored) || cell?.content.set !== undefined;
  const waits = attempts.length > 0 && !isScored(attempts.at(-1)!);
  const is: Record<Unfinished, boolean> = {
    'no-feedback': scored && of.someFeedback && now.feedback === null,
    criteria: of.rubric && (now.inPart || (now.unmarked && scored)),
    waiting: waits && cell?.content.state !== 'excused',
    'second-look': of.second,
    writing: now.written.some((w) => w.person !== of.reader && w.age < RESTED),
  };
  return UNFINISHED.filter((u) => is[u]);
}

const isScored = (a: { score?: number; mark?: string }): boolean => a.score !== undefined || a.mark !== undefined;
