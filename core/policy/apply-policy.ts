import type { RulesPart } from '../book/change';
import { groupsOf, type Group, type LateRule, type RuleSets } from '../book/document';
import type { ItemSettings } from '../proposal/proposal';
import { defaultOf, isPolicyRule, skipsOf, type Governed } from './deviations';
import {
  byCalendar,
  namesIn,
  OPEN_SCHOOL,
  ownRule,
  type PolicyArea,
  type NamedSet,
  type SchoolRules,
} from './document';
import { allowanceHours, sameRounding, saysSame } from './same';

/** Two versions of a school's rules, seen in one matter. */
interface AreaChange {
  was: SchoolRules;
  is: SchoolRules;
  fixed: boolean;
}

/**
 * What a book becomes when its school's rules become others. In what is fixed it takes on all of the school's; where it
 * may depart it takes on what it has as the school said before, and keeps the rest; where books are free nothing changes.
 * What the school said nothing about was what a new book begins with. Pure; `items` holds the assessments that change.
 */
export function applyPolicy(was: SchoolRules, is: SchoolRules, book: Governed): Governed {
  const inMatter = (matter: PolicyArea): AreaChange | null =>
    is.stands[matter] === 'open'
      ? null
      : { was: was.stands[matter] === 'open' ? OPEN_SCHOOL : was, is, fixed: is.stands[matter] === 'fixed' };
  let next: Governed = { rules: book.rules, items: book.items };
  const calendar = inMatter('calendar');
  for (const set of ['blank', 'late', 'marks', 'scales'] as const) {
    const t = inMatter(set === 'scales' ? 'letters' : set);
    if (t) next = applySet(next, t, set);
  }
  if (calendar) next = { ...next, rules: applyCalendar(book.rules, next.rules, calendar) };
  const allowance = inMatter('allowance');
  if (allowance) next = { ...next, rules: applyHours(next.rules, allowance) };
  const rounding = inMatter('rounding');
  if (rounding && (rounding.fixed || sameRounding(next.rules, rounding.was)))
    if (!sameRounding(next.rules, is)) next = { ...next, rules: { ...next.rules, rounding: is.rounding } };
  return {
    rules: next.rules,
    items: Object.fromEntries(Object.entries(next.items).filter(([id, i]) => i !== book.items[id])),
  };
}

function applyHours(rules: RulesPart, { was, is, fixed }: AreaChange): RulesPart {
  const hours = allowanceHours(is);
  if (!(fixed || allowanceHours(rules) === allowanceHours(was)) || allowanceHours(rules) === hours) return rules;
  const { lateAllowanceHours: _, ...rest } = rules;
  return hours === 24 ? rest : { ...rest, lateAllowanceHours: hours };
}

/** The rules with one named rule put; undefined takes it away. */
function putRule(rules: RulesPart, set: NamedSet, name: string, rule: unknown): RulesPart {
  const all = { ...(rules.rules?.[set] as Record<string, unknown> | undefined) };
  if (rule === undefined) delete all[name];
  else Object.defineProperty(all, name, { value: rule, enumerable: true, configurable: true, writable: true });
  return { ...rules, rules: { ...rules.rules, [set]: all } as RuleSets };
}

function applySet(book: Governed, t: AreaChange, set: NamedSet): Governed {
  let { rules, items } = book;
  for (const name of namesIn(t.is, set)) {
    const has = ownRule(rules, set, name);
    const said = ownRule(t.was, set, name);
    const says = ownRule(t.is, set, name);
    if (has === undefined) {
      // One that the book has taken away stays away, unless it has to go by it.
      const wanted = said === undefined || t.fixed || (set !== 'marks' && movesDefault(rules, t, set, name));
      if (wanted) rules = putRule(rules, set, name, set === 'late' ? { ...(says as LateRule), ...daysOf(t.is) } : says);
    } else if ((t.fixed || saysSame(set, has, said)) && !saysSame(set, has, says))
      rules = putRule(rules, set, name, set === 'late' ? withDaysOf(says as LateRule, has as LateRule) : says);
  }
  if (set !== 'marks') rules = applyDefault(rules, t, set);
  if (t.fixed && (set === 'late' || set === 'blank')) ({ rules, items } = withoutForeign({ rules, items }, t.is, set));
  for (const name of namesIn(t.was, set)) {
    if (ownRule(t.is, set, name) !== undefined || isUsed({ rules, items }, set, name)) continue;
    const has = ownRule(rules, set, name);
    if (has !== undefined && saysSame(set, has, ownRule(t.was, set, name)))
      rules = putRule(rules, set, name, undefined);
  }
  return { rules, items };
}

function withDaysOf(rule: LateRule, days: LateRule): LateRule {
  const { skipDays, skipDates } = days;
  return { ...rule, ...(skipDays ? { skipDays } : {}), ...(skipDates ? { skipDates } : {}) };
}

const movesDefault = (rules: RulesPart, t: AreaChange, set: 'late' | 'blank' | 'scales', name: string): boolean =>
  defaultOf(t.is, set) === name && (t.fixed || defaultOf(rules, set) === defaultOf(t.was, set));

function applyDefault(rules: RulesPart, t: AreaChange, set: 'late' | 'blank' | 'scales'): RulesPart {
  const to = defaultOf(t.is, set);
  if (defaultOf(rules, set) === to || !(t.fixed || defaultOf(rules, set) === defaultOf(t.was, set))) return rules;
  // A rule of the book's own that has the same name is not the school's.
  if (to !== null && !saysSame(set, ownRule(rules, set, to), ownRule(t.is, set, to))) return rules;
  return set === 'blank' ? { ...rules, blank: to! } : { ...rules, [set === 'late' ? 'late' : 'scale']: to };
}

/** Categories and assessments that go by rules which are not the school's go by what is above them again. */
function withoutForeign({ rules, items }: Governed, school: SchoolRules, set: 'late' | 'blank'): Governed {
  const foreign = (o: { late?: string | null; blank?: string }): boolean =>
    o[set] !== undefined && !isPolicyRule(school, set, o[set]);
  const group = (g: Group): Group => {
    const next: Group = { ...g, children: g.children.map((c) => (c.type === 'group' ? group(c) : c)) };
    if (foreign(g)) delete next[set];
    return next;
  };
  const settings = (i: ItemSettings): ItemSettings => {
    const { [set]: _, ...rest } = i;
    return rest;
  };
  return {
    rules: groupsOf(rules.tree).some(foreign) ? { ...rules, tree: group(rules.tree) } : rules,
    items: Object.fromEntries(Object.entries(items).map(([id, i]) => [id, foreign(i) ? settings(i) : i])),
  };
}

function isUsed({ rules, items }: Governed, set: NamedSet, name: string): boolean {
  if (set === 'scales') return rules.scale === name;
  if (Object.values(items).some((i) => i[set] === name)) return true;
  return set !== 'marks' && (rules[set] === name || groupsOf(rules.tree).some((g) => g[set] === name));
}

/** Late rules that leave out every day that the school did leave out those that it does now, and their own besides. */
function applyCalendar(before: RulesPart, rules: RulesPart, { was, is, fixed }: AreaChange): RulesPart {
  const said = skipsOf(byCalendar({}, was.calendar));
  const says = skipsOf(byCalendar({}, is.calendar));
  let next = rules;
  for (const name of namesIn(rules, 'late')) {
    // One that has just come from the school has its days.
    if (!fixed && ownRule(before, 'late', name) === undefined) continue;
    const rule = ownRule(rules, 'late', name) as LateRule;
    const has = skipsOf(rule);
    const own = fixed ? [] : [...has].filter((d) => !said.has(d));
    if (!fixed && [...said].some((d) => !has.has(d))) continue;
    const days = [...new Set([...own, ...says])];
    if (days.length === has.size && days.every((d) => has.has(d))) continue;
    const calendar = {
      days: days.filter((d) => d.length === 1).map(Number),
      closures: days.filter((d) => d.length > 1).map((d) => ({ title: '', from: d, to: d })),
    };
    next = putRule(next, 'late', name, byCalendar(rule, calendar));
  }
  return next;
}

/** The days of a school's calendar as a late rule has them, for a rule that begins in a book. */
export const daysOf = (school: SchoolRules): Pick<LateRule, 'skipDays' | 'skipDates'> =>
  byCalendar({}, school.stands.calendar === 'open' ? OPEN_SCHOOL.calendar : school.calendar);
