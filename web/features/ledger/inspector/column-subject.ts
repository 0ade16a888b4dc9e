import { topOf } from '@core/rubric/check-rubric';
import { type LedgerView } from '../view/ledger-view';

/** What a column is about: an assessment, one of its criteria (`of` that), a category, or the standing. */
export interface Subject {
  kind: 'item' | 'criterion' | 'category' | 'standing';
  id: string;
  of?: string;
}

export function titleOfSubject(view: LedgerView, { kind, id, of = '' }: Subject): string {
  if (kind === 'criterion') return view.criteria.criterion(of, id)?.title ?? '';
  if (kind === 'standing') return 'Standing';
  return kind === 'item' ? (view.store.assessments().get(id)?.title ?? '') : view.titleOf(id);
}

/** Of how many points: the assessment's, or the criterion's highest level; 0: it is in percent. */
export function fullOf(view: LedgerView, { kind, id, of = '' }: Subject): number {
  if (kind === 'criterion') {
    const c = view.criteria.criterion(of, id);
    return c ? topOf(c) : 0;
  }
  return kind === 'item' ? (view.store.assessments().get(id)?.points ?? 0) : 0;
}

/** What counts of an assessment, or was given for a criterion, in points, for those listed; NaN: nothing. */
export function pointsOf(view: LedgerView, { kind, id: item, of = '' }: Subject): number[] {
  view.store.revision();
  if (kind === 'criterion')
    return view.rows().map((s) => {
      const mark = view.criteria.mark(of, item, view.store.students()[s]!);
      return mark && 'points' in mark ? mark.points : NaN;
    });
  const cells = view.store.cells();
  const i = view.store.itemIndex().get(item);
  if (!cells || i === undefined) return [];
  return view.rows().map((s) => cells.counts[view.store.at(s, i)]! / 100);
}

/** The same of any column in percent. */
export function percentsOf(view: LedgerView, subject: Subject): number[] {
  const { kind, id } = subject;
  view.store.revision();
  if (kind === 'standing') return view.rows().map((s) => view.store.standings()[s]?.at ?? NaN);
  if (kind === 'category') return view.rows().map((s) => view.totals().get(id)?.[s] ?? NaN);
  const full = fullOf(view, subject);
  return full === 0 ? [] : pointsOf(view, subject).map((p) => (100 * p) / full);
}
