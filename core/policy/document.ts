import { firstRules } from '../book/first-rules';
import type { RulesPart } from '../book/change';
import type { LateRule } from '../book/document';

export const SCHOOL_RULES_FORMAT = 'last-tally.school-rules/1';

/** What a school may say for all its books, each by itself. */
export const POLICY_AREAS = ['blank', 'late', 'calendar', 'allowance', 'marks', 'rounding', 'letters'] as const;
export type PolicyArea = (typeof POLICY_AREAS)[number];

/** `open`: books are free in it; `begins`: they begin with it and may depart; `fixed`: they may not. */
export const ENFORCEMENTS = ['open', 'begins', 'fixed'] as const;
export type Enforcement = (typeof ENFORCEMENTS)[number];

/** Days on which the school is closed, from the first to the last, both included: `YYYY-MM-DD` in a book's own zone. */
export interface Closure {
  title: string;
  from: string;
  to: string;
}

/** What lateness does not count: days of the week (1 Monday to 7 Sunday) and closures. */
export interface Calendar {
  days: number[];
  closures: Closure[];
}

/** The part of a book's rules that a school can say. */
export type SharedRules = Pick<RulesPart, 'rules' | 'blank' | 'late' | 'scale' | 'rounding' | 'lateAllowanceHours'>;

/** The rules of a school (docs/formats/school-rules.md). Its late rules skip the days of its calendar and no others. */
export interface SchoolRules extends SharedRules {
  format: typeof SCHOOL_RULES_FORMAT;
  calendar: Calendar;
  stands: Record<PolicyArea, Enforcement>;
}

/** The sets of named rules. */
export type NamedSet = 'late' | 'blank' | 'marks' | 'scales';

const first = firstRules([]);

/** A school that says nothing: books begin with the first rules and are free in all. */
export const OPEN_SCHOOL: SchoolRules = {
  format: SCHOOL_RULES_FORMAT,
  rules: first.rules!,
  blank: first.blank,
  late: first.late!,
  rounding: first.rounding,
  calendar: { days: [], closures: [] },
  stands: Object.fromEntries(POLICY_AREAS.map((m) => [m, 'open'])) as Record<PolicyArea, Enforcement>,
};

const DAY = 86_400_000;

/** Every closed date of a calendar, each once, the earliest first. */
export function closedDates(calendar: Calendar): string[] {
  const out = new Set<string>();
  for (const { from, to } of calendar.closures)
    for (let at = Date.parse(from); at <= Date.parse(to); at += DAY) out.add(new Date(at).toISOString().slice(0, 10));
  return [...out].sort();
}

/** A late rule that skips the days of the calendar and no others. */
export function byCalendar(rule: LateRule, calendar: Calendar): LateRule {
  const { skipDays: _w, skipDates: _d, ...rest } = rule;
  const dates = closedDates(calendar);
  return {
    ...rest,
    ...(calendar.days.length > 0 ? { skipDays: [...calendar.days].sort((a, b) => a - b) } : {}),
    ...(dates.length > 0 ? { skipDates: dates } : {}),
  };
}

/** Names of a set, `info` apart. */
export const namesIn = (rules: Pick<SharedRules, 'rules'>, set: NamedSet): string[] =>
  Object.keys(rules.rules?.[set] ?? {}).filter((name) => name !== 'info' && ownRule(rules, set, name) !== undefined);

/** A named rule; undefined where there is none of its own. */
export function ownRule(rules: Pick<SharedRules, 'rules'>, set: NamedSet, name: string): unknown {
  const all = rules.rules?.[set] as Record<string, unknown> | undefined;
  return all && Object.hasOwn(all, name) ? all[name] : undefined;
}
