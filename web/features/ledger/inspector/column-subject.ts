import { type LedgerView } from '../view/ledger-view';

/** What a column is about: an assessment, a category, or the standing. */
export interface Subject {
  kind: 'item' | 'category' | 'standing';
  id: string;
}

export function titleOfSubject(view: LedgerView, { kind, id }: Subject): string {
  if (kind === 'standing') return 'Standing';
  return kind === 'item' ? (view.store.assessments().get(id)?.title ?? '') : view.titleOf(id);
}

/** What counts of an assessment, in points, for those listed; NaN: nothing. */
export function pointsOf(view: LedgerView, item: string): number[] {
  view.store.revision();
  const cells = view.store.cells();
  const i = view.store.itemIndex().get(item);
  if (!cells || i === undefined) return [];
  return view.rows().map((s) => cells.counts[view.store.at(s, i)]! / 100);
}

/** The same of any column in percent. */
export function percentsOf(view: LedgerView, { kind, id }: Subject): number[] {
  view.store.revision();
  if (kind === 'standing') return view.rows().map((s) => view.store.standings()[s]?.at ?? NaN);
  if (kind === 'category') return view.rows().map((s) => view.totals().get(id)?.[s] ?? NaN);
  const full = view.store.assessments().get(id)?.points ?? 0;
  return full === 0 ? [] : pointsOf(view, id).map((p) => (100 * p) / full);
}
