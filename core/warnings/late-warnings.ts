import type { BookDocument, LateRule } from '../book/document';
import type { CompiledBook } from '../calculation/compiled/compile';
import { pointersOf, rulePointer } from './places';
import type { Warning } from './warnings';

/**
 * The least that late work can come to, as a percent of the points, with full marks for the work itself: what the
 * deduction leaves at its greatest, or the floor; where it closes, what is left after that, which no floor holds.
 */
export function leastLate(rule: LateRule, closes: boolean): number {
  const most = rule.max ?? 100;
  // A steady deduction grows without end, so its limit is all that stops it.
  const deepest = rule.steps
    ? Math.min(most, Math.max(rule.after!, ...rule.steps.map((s) => s.deduct)))
    : rule.deduct === 0
      ? 0
      : most;
  const open = Math.max(100 - deepest, Math.min(100, rule.floor ?? 0), 0);
  if (!closes || rule.afterCloses === undefined) return open;
  return Math.min(open, Math.max(100 - Math.max(deepest, rule.afterCloses), 0));
}

/** Late work, even perfect, that can earn less than work never handed in. */
export function lateWarnings(compiled: CompiledBook): Warning[] {
  const places = pointersOf(compiled.book.tree);
  return compiled.items.flatMap((item): Warning[] => {
    const { afterDue } = item.blank;
    if (item.late === null || item.optional || afterDue === 'skip') return [];
    const sections = Object.values(item.source.sectionDates ?? {}) as { closes?: string }[];
    const closes = item.closes !== null || sections.some((d) => d?.closes !== undefined);
    const late = leastLate(item.late.rule, closes);
    if (late >= afterDue.percent) return [];
    return [
      {
        kind: 'late-below-missing',
        at: places.get(item.id)!,
        says: `Late work can come down to ${late} % of the points, but work that never comes gets ${afterDue.percent} %: handing in very late is worse than not at all.`,
      },
    ];
  });
}

/** A bank of late units beside late allowances that are given one by one: both would be spent. */
export function bankWarnings(book: BookDocument, compiled: CompiledBook): Warning[] {
  const allowed = new Set(book.entries.flatMap((e) => ((e.lateAllowances ?? 0) > 0 ? [e.item] : [])));
  const names = new Set(
    compiled.items.flatMap((item) => (item.late?.bank && allowed.has(item.id) ? [item.lateName!] : [])),
  );
  return [...names].map((name) => ({
    kind: 'bank-beside-allowances',
    at: `${rulePointer('late', name)}/bank`,
    says: 'This rule has a bank of late units that is spent by itself, and somebody has late allowances of their own besides: these move the date first, and only what is late after that comes from the bank.',
  }));
}
