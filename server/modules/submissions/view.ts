import { isTaken, oddAboutFile } from '@core/work/file-kinds';
import { moment } from '@core/working/wording';
import type { Submission, WorkSettings } from '@contract/work/submissions';
import type { AssessmentRow, BookRow } from '../books';
import type { ReopeningRow } from '../scores';
import type { SubmissionRow } from './sql/submissions';

/** A submission as its student and their staff read it. */
export function viewOf(s: SubmissionRow, work: WorkSettings): Submission {
  return {
    id: s.id,
    state: s.state,
    version: s.version,
    typed: s.typed,
    link: s.link,
    files: s.files.map((f) => ({
      id: f.id,
      name: f.name,
      bytes: f.bytes,
      received: f.received,
      upload: f.upload,
      sha256: f.sha256,
      mediaType: f.mediaType,
      odd: f.sha256 === null ? null : oddAboutFile(f, work.types),
      refused: f.sha256 !== null && !isTaken(f, work.types),
    })),
    statement: s.statement,
    receipt: s.receipt,
    attempt: s.attempt,
    begunAt: s.begunAt,
    handedInAt: s.handedInAt,
  };
}

/** What one student has handed in for an assessment, and how it was given back to them. */
export interface Handed {
  before: readonly SubmissionRow[];
  reopenings: readonly ReopeningRow[];
  /** The due date of their own; a reopening holds while that is not taken back. */
  ownDue: string | null;
}

/** The reopenings that hold: one whose date was taken back by the staff gives nothing any more. */
const holding = ({ reopenings, ownDue }: Handed): ReopeningRow[] =>
  reopenings.filter((r) => ownDue !== null && Date.parse(ownDue) >= Date.parse(r.until));

/** The latest reopening that nothing was handed in for yet; null: none. */
export function openReopening(handed: Handed): ReopeningRow | null {
  const last = holding(handed).at(-1);
  if (!last) return null;
  const used = handed.before.some((s) => s.handedInAt !== null && s.state !== 'moved' && s.handedInAt >= last.at);
  return used ? null : last;
}

/** How many times one may still hand in; null: no limit. Each reopening gives one time at least, whatever was used before. */
export function attemptsLeft({ work }: Pick<AssessmentRow, 'work'>, handed: Handed): number | null {
  const allowed = work.attempts === undefined ? 1 : work.attempts;
  if (allowed === null) return null;
  const moments = handed.before.flatMap((s) => (s.state === 'handed-in' ? [s.handedInAt!] : []));
  let all = allowed;
  for (const r of holding(handed)) all = Math.max(all, moments.filter((at) => at < r.at).length + 1);
  return Math.max(0, all - moments.length);
}

/** Why nothing can be handed in at a moment, in a sentence; '' where it can. */
export function shutReason(
  of: { row: BookRow; assessment: AssessmentRow; closes: string | null; asOf: string },
  handed: Handed,
): string {
  const { row, assessment, closes, asOf } = of;
  const said = (at: string): string => moment(row.timeZone, Date.parse(at));
  if (row.archived) return 'This book is put away: nothing is handed in any more.';
  if (!assessment.takesWork)
    return assessment.work.elsewhere === 'nothing'
      ? 'Nothing is handed in for this.'
      : `Nothing is handed in here: this is ${assessment.work.elsewhere === 'tool' ? 'done in another tool' : 'on paper or in the room'}.`;
  if (assessment.work.opens && Date.parse(asOf) < Date.parse(assessment.work.opens))
    return `It opens ${said(assessment.work.opens)}.`;
  if (closes !== null && Date.parse(asOf) > Date.parse(closes)) return `Work was taken in until ${said(closes)}.`;
  if (attemptsLeft(assessment, handed) === 0)
    return assessment.work.attempts === undefined || assessment.work.attempts === 1
      ? 'It is handed in. There is one attempt.'
      : `All ${assessment.work.attempts} attempts are handed in.`;
  return '';
}
