import type { RulesPart } from '@core/book/change';
import type { Item } from '@core/book/document';

/** The labels that an assessment is scored in; null where it has no named marks. */
export function marksOf(
  rules: Pick<RulesPart, 'rules'>,
  { more }: { more: Partial<Item> },
): ReadonlySet<string> | null {
  const set = more.marks ? rules.rules?.marks?.[more.marks] : undefined;
  return set ? new Set(set.map((m) => m.label)) : null;
}
