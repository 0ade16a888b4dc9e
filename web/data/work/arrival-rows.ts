import type { Arrivals, Submission } from '@contract/submissions';
import type { CellView } from '../../ui/text/cell-view';

/** Minutes without a byte after which a file that is not all there has broken off. */
const BROKEN_AFTER = 10;

/** One student of the list. */
export interface ArrivalRow {
  enrolment: string;
  name: string;
  section: string;
  due: string | null;
  ownDue: boolean;
  open: boolean;
  /** Given back to them until then, and nothing came since. */
  openAgain: string | null;
  /** A question of theirs waits for an answer. */
  asks: boolean;
  /** Marked for a second look. */
  secondLook: boolean;
  late: string;
  submissions: Submission[];
  /** Of the staff those who opened what was handed in last, by name. */
  openedBy: string[];
  /** What they handed in last, or have begun. */
  parts: string;
  state: string;
  /** Classes of the state's word. */
  look: string;
  kind: ArrivalKind;
}

/** In the order in which counts stand. */
export const ARRIVAL_KINDS = ['released', 'draft', 'to mark', 'begun', 'broke off', 'excused', 'missing', 'nothing yet'] as const; // prettier-ignore
export type ArrivalKind = (typeof ARRIVAL_KINDS)[number];

/** How many percent of what was announced are here; null: nothing is on its way. */
export function brokenShare(s: Submission): number | null {
  const coming = s.files.filter((f) => f.sha256 === null && f.received < f.bytes);
  if (coming.length === 0) return null;
  const [all, here] = coming.reduce(([a, h], f) => [a + f.bytes, h + f.received], [0, 0]);
  return Math.floor((100 * here) / Math.max(1, all));
}

export function partWords(s: Submission): string {
  const names = s.files.map((f) => f.name);
  if (s.typed.trim() !== '') names.push('text');
  if (s.link.trim() !== '') names.push('link');
  return names.length > 2 ? `${names[0]} and ${names.length - 1} more` : names.join(', ');
}

/** What is true of a student, as a word and a kind: what their cell says, and what came beside it. */
export function rowState(
  student: Arrivals['students'][number],
  cell: CellView & { state: string; released: boolean; again: boolean },
  asOf: string,
): Pick<ArrivalRow, 'state' | 'look' | 'kind' | 'parts'> {
  const handedIn = student.submissions.filter((s) => s.state === 'handed-in');
  const begun = student.submissions.find((s) => s.state === 'begun');
  const last = handedIn.at(-1);
  const parts = last ? `${partWords(last)}${handedIn.length > 1 ? `, ${handedIn.length} attempts` : ''}` : begun ? partWords(begun) : ''; // prettier-ignore
  const said = (state: string, look: string, kind: ArrivalKind) => ({ state, look, kind, parts });
  const cellWords = `${cell.text}${cell.taken ? ` ${cell.taken}` : ''}`;
  // Handed in again over a score: that waits.
  if (cell.state === 'scored' && cell.again) return said(`${cellWords} again`, 'blue', 'to mark');
  if (cell.state === 'scored' || cell.state === 'set')
    return said(cellWords, cell.look, cell.released ? 'released' : 'draft');
  if (cell.state === 'excused') return said('excused', cell.look, 'excused');
  if (last || cell.state === 'pending')
    return said(student.late ? `${student.late} to mark` : 'to mark', 'blue', 'to mark');
  if (begun) {
    const share = brokenShare(begun);
    const quiet = Date.parse(asOf) - Date.parse(begun.begunAt) > BROKEN_AFTER * 60_000;
    if (share !== null && quiet) return said(`broke off at ${share} %`, 'red', 'broke off');
    return said('begun, not handed in', 'pencil', 'begun');
  }
  if (student.submissions.some((s) => s.state === 'taken-back')) return said('taken back', 'pencil', 'nothing yet');
  if (cell.state === 'missing') return said('missing', cell.look, 'missing');
  return said(cell.text || 'nothing yet', cell.text ? cell.look : 'quiet', 'nothing yet');
}
