import { isMarkedInPart } from '@core/rubric/given-levels';
import type { Rubric, RubricMarks } from '@core/rubric/document';
import type { ArrivalRow } from '../../../data/work/arrival-rows';

/** A row of somebody whose work is marked in part: some criteria are given, and others are not. That waits still. */
export function unfinishedRow(row: ArrivalRow, rubric: Rubric, marks: RubricMarks): ArrivalRow {
  if (row.kind !== 'draft' || !isMarkedInPart(rubric, marks)) return row;
  const given = rubric.criteria.filter((c) => marks[c.id] !== undefined).length;
  return { ...row, kind: 'to mark', look: 'blue', state: `${given} of ${rubric.criteria.length}` };
}

/** What is said of a row beside its name. */
export function rowWords(r: ArrivalRow): string {
  if (r.secondLook) return 'second look';
  if (r.state === 'to mark' && r.openedBy.some((o) => o.by === 'you' && o.through)) return 'looked through';
  return r.state === 'begun, not handed in' ? 'begun' : r.state;
}

const handedIn = (r: ArrivalRow): boolean => r.submissions.some((s) => s.state === 'handed-in');

export const isUnopened = (r: ArrivalRow): boolean =>
  r.kind === 'to mark' && handedIn(r) && !r.openedBy.some((o) => o.by === 'you');

/** Who opened the work and who looked it through: "looked through by you, opened by R. Aldous". */
export function openedWords(r: ArrivalRow): string {
  if (!handedIn(r)) return '';
  const names = (through: boolean): string =>
    r.openedBy
      .filter((o) => o.through === through)
      .map((o) => o.by)
      .toSorted((a, b) => Number(b === 'you') - Number(a === 'you'))
      .join(', ');
  const said = [names(true) && `looked through by ${names(true)}`, names(false) && `opened by ${names(false)}`];
  return said.filter((w) => w !== '').join(', ') || 'unopened';
}

/** How many are in which state: "3 draft, 2 released". */
export function countsOf(rows: readonly ArrivalRow[]): string {
  const of = (kind: ArrivalRow['kind']): number => rows.filter((r) => r.kind === kind).length;
  const missing = of('missing') > 0 ? [`${of('missing')} missing`] : [];
  return [`${of('draft')} draft`, `${of('released')} released`, ...missing].join(', ');
}
