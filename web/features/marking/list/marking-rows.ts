import type { Rubric, RubricMarks } from '@core/rubric/document';
import type { ArrivalRow } from '../../../data/work/arrival-rows';

/** A row of somebody whose work is marked in part: some criteria are given, and others are not. That waits still. */
export function unfinishedRow(row: ArrivalRow, rubric: Rubric, marks: RubricMarks): ArrivalRow {
  const given = rubric.criteria.filter((c) => marks[c.id] !== undefined).length;
  if (row.kind !== 'draft' || given === 0 || given === rubric.criteria.length) return row;
  return { ...row, kind: 'to mark', look: 'blue', state: `${given} of ${rubric.criteria.length}` };
}

/** What is said of a row beside its name. */
export function rowWords(r: ArrivalRow): string {
  if (r.secondLook) return 'second look';
  return r.state === 'begun, not handed in' ? 'begun' : r.state;
}

const handedIn = (r: ArrivalRow): boolean => r.submissions.some((s) => s.state === 'handed-in');

export const isUnopened = (r: ArrivalRow): boolean =>
  r.kind === 'to mark' && handedIn(r) && !r.openedBy.includes('you');

export function openedWords(r: ArrivalRow): string {
  if (!handedIn(r)) return '';
  return r.openedBy.length === 0 ? 'unopened' : `opened by ${r.openedBy.join(', ')}`;
}

/** How many are in which state: "3 draft, 2 released". */
export function countsOf(rows: readonly ArrivalRow[]): string {
  const of = (kind: ArrivalRow['kind']): number => rows.filter((r) => r.kind === kind).length;
  const missing = of('missing') > 0 ? [`${of('missing')} missing`] : [];
  return [`${of('draft')} draft`, `${of('released')} released`, ...missing].join(', ');
}
