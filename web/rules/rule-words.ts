import type { RulesPart } from '@core/book/change';
import type { BlankRule, Group, LateRule, Scale } from '@core/book/document';

/** Small changes of rules, each giving new rules; the given ones are not touched. */
export const categoriesOf = (rules: RulesPart): Group[] =>
  rules.tree.children.filter((c): c is Group => c.type === 'group');

export function changeCategory(rules: RulesPart, id: string, put: Partial<Group>): RulesPart {
  const children = rules.tree.children.map((c) => (c.id === id && c.type === 'group' ? tidy({ ...c, ...put }) : c));
  return { ...rules, tree: { ...rules.tree, children } };
}

/** The name and rule that the book uses for lateness; null: none. */
export function bookLate(rules: RulesPart): { name: string; rule: LateRule } | null {
  const rule = rules.late ? rules.rules?.late?.[rules.late] : undefined;
  return rules.late && rule ? { name: rules.late, rule } : null;
}

export function changeLate(rules: RulesPart, put: Partial<LateRule>): RulesPart {
  const now = bookLate(rules);
  if (!now) return rules;
  return {
    ...rules,
    rules: { ...rules.rules, late: { ...rules.rules?.late, [now.name]: tidy({ ...now.rule, ...put }) } },
  };
}

/** Switches lateness on for the book, with a usual rule where there is none, or off. */
export function switchLate(rules: RulesPart, on: boolean): RulesPart {
  if (!on) return { ...rules, late: null };
  const names = Object.keys(rules.rules?.late ?? {});
  if (names[0]) return { ...rules, late: names[0] };
  const rule: LateRule = { unit: 'day', deduct: 10, max: 50, of: 'possible', floor: 0, graceMinutes: 15 };
  return { ...rules, late: 'steady', rules: { ...rules.rules, late: { steady: rule } } };
}

export const bookBlank = (rules: RulesPart): BlankRule => rules.rules!.blank![rules.blank]!;

export function changeBlank(rules: RulesPart, put: Partial<BlankRule>): RulesPart {
  return {
    ...rules,
    rules: { ...rules.rules, blank: { ...rules.rules?.blank, [rules.blank]: { ...bookBlank(rules), ...put } } },
  };
}

export function bookScale(rules: RulesPart): Scale | null {
  return rules.scale ? (rules.rules?.scales?.[rules.scale] ?? null) : null;
}

export function changeScale(rules: RulesPart, put: Partial<Scale>): RulesPart {
  const now = bookScale(rules);
  if (!now || !rules.scale) return rules;
  return { ...rules, rules: { ...rules.rules, scales: { ...rules.rules?.scales, [rules.scale]: { ...now, ...put } } } };
}

function tidy<T extends object>(value: T): T {
  const out = { ...value } as Record<string, unknown>;
  for (const key of Object.keys(out)) if (out[key] === undefined) delete out[key];
  return out as T;
}

/** What the weights come to and what follows from it, in words. */
export function weightsSay(categories: readonly Group[]): { sum: number; says: string } {
  const counted = categories.filter((c) => !c.extraCredit);
  const sum = Math.round(counted.reduce((n, c) => n + (c.weight ?? 1), 0) * 10_000) / 10_000;
  if (sum === 0) return { sum, says: 'All weights are 0, so nothing counts and nobody has a standing.' };
  if (sum === 100) return { sum, says: 'Together 100 %.' };
  return {
    sum,
    says: `Together ${sum}, not 100. Each category counts as its part of ${sum}, so nobody gains or loses by it.`,
  };
}

/** A category's part of the whole, in percent. */
export const partOf = (category: Group, sum: number): string =>
  sum === 0 ? '0' : String(Math.round(((category.weight ?? 1) / sum) * 1000) / 10);
