import type { Arrivals, OpenedBy, Submission } from '@contract/work/submissions';
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
  /** Of the staff those who opened what was handed in last, and who looked it through. */
  openedBy: readonly OpenedBy[];
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

/** Somebody opened a piece of work of a student, or looked it through. */
export interface OpenedWork extends OpenedBy {
  enrolment: string;
  work: string;
}

/** The list with somebody among those who opened what a student handed in last, or looked it through. */
export function withOpened(list: Arrivals, { enrolment, work, by, through }: OpenedWork): Arrivals {
  return {
    ...list,
    students: list.students.map((s) => {
      if (s.enrolment !== enrolment || s.submissions.findLast((x) => x.state === 'handed-in')?.id !== work) return s;
      const was = s.openedBy.find((o) => o.by === by);
      const others = s.openedBy.filter((o) => o !== was);
      return { ...s, openedBy: [...others, { by, through: through || was?.through === true }] };
    }),
  };
}

/** The list as it was asked for again, with those of whom nothing changed as they were. */
export function sameStudents(before: Arrivals | undefined, now: Arrivals): Arrivals {
  const known = new Map(before?.students.map((s) => [s.enrolment, s]));
  return {
    ...now,
    students: now.students.map((s) => {
      const was = known.get(s.enrolment);
      return was && JSON.stringify(was) === JSON.stringify(s) ? was : s;
    }),
  };
}

/** Rows worked out anew, with those in which nothing changed as they were; the same list where none did. */
export function sameRows(before: ArrivalRow[], now: ArrivalRow[]): ArrivalRow[] {
  const known = new Map(before.map((r) => [r.enrolment, r]));
  const rows = now.map((r) => {
    const was = known.get(r.enrolment);
    return was && Object.entries(r).every(([key, value]) => was[key as keyof ArrivalRow] === value) ? was : r;
  });
  return rows.length === before.length && rows.every((r, i) => r === before[i]) ? before : rows;
}
