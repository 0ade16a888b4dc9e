import type { BookDocument } from '@core/book/document';
import type { CompiledBook } from '@core/calculation/compiled/compile';
import { compileBook } from '@core/calculation/compiled/compile';
import { evaluateTree } from '@core/calculation/groups';
import { valuesOf } from '@core/calculation/cells/value';
import { variantAt } from '@core/calculation/compiled/variants';
import { standingAt, standingsOf } from '@core/estimate/standings';
import { toNumber } from '@core/exact/fraction';
import { itemsOf } from '@core/book/document';
import type { StandingAt } from './protocol';

/** What each student has of a group, in percent; NaN where nothing of it counts yet. */
export function totalsOf(compiled: CompiledBook, group: string): Float64Array {
  const node = compiled.nodes.get(group);
  const totals = new Float64Array(compiled.students.length).fill(NaN);
  if (node?.type !== 'group') return totals;
  for (let s = 0; s < totals.length; s++) {
    const ratio = evaluateTree(variantAt(compiled, s), valuesOf(compiled, s)).outcomes[node.index]!.ratio;
    if (ratio !== null) totals[s] = 100 * toNumber(ratio);
  }
  return totals;
}

/**
 * A student's standing at every due date up to now and now: at each, only work that was due by then is in the book, as
 * it was scored since. It shows how the term went, not what was known on the day; the journal has that.
 */
export function overTerm(book: BookDocument, student: string): StandingAt[] {
  const now = Date.parse(book.asOf);
  const due = new Map(itemsOf(book.tree).map((i) => [i.id, i.due === undefined ? null : Date.parse(i.due)]));
  const moments = [...new Set([...due.values()].filter((d): d is number => d !== null && d < now))].sort(
    (a, b) => a - b,
  );
  const own = book.entries.filter((e) => e.student === student);
  const students = book.students.filter((s) => s.id === student);
  const at = (moment: number): StandingAt => {
    const entries = moment === now ? own : own.filter((e) => (due.get(e.item) ?? now) <= moment);
    // A moment later than the due date itself: what is missing then counts as the rules say.
    const asOf = new Date(moment === now ? now : moment + 1).toISOString();
    const overrides = book.overrides?.filter((o) => o.student === student && moment === now);
    const compiled = compileBook({ ...book, asOf, students, entries, ...(overrides ? { overrides } : {}) });
    return { at: moment, standing: standingAt(standingsOf(compiled), 0) };
  };
  return [...moments, now].map(at);
}
