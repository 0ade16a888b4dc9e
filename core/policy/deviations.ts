import { canonical } from '../book/canonical';
import type { RulesPart } from '../book/change';
import { groupsOf, type LateRule } from '../book/document';
import type { ItemSettings } from '../proposal/proposal';
import { byCalendar, namesIn, ownRule, type PolicyArea, type SchoolRules } from './document';
import { allowanceHours, sameRounding, saysSame } from './same';

/** Where in a book something is other than the school says. */
export type Place =
  | { kind: 'value' }
  /** Which rule, or which scale, the book goes by. */
  | { kind: 'default' }
  | { kind: 'rule'; name: string }
  | { kind: 'group'; id: string }
  | { kind: 'item'; id: string };

/** One thing in which a book departs: what it has, and what the school says (null: nothing). */
export interface Deviation {
  matter: PolicyArea;
  place: Place;
  is: unknown;
  school: unknown;
}

/** What of a book its school can say: its rules, and the settings of its assessments by id. */
export interface Governed {
  rules: RulesPart;
  items: Record<string, ItemSettings>;
}

/** Two departures with the same text are the same one. */
export const deviationKey = (d: Deviation): string => canonical([d.matter, d.place, d.is ?? null]);

/** The rule of a set that a book or school goes by where nothing else is said; null: none. */
export const defaultOf = (
  rules: Pick<RulesPart, 'blank' | 'late' | 'scale'>,
  set: 'late' | 'blank' | 'scales',
): string | null => (set === 'scales' ? (rules.scale ?? null) : set === 'late' ? (rules.late ?? null) : rules.blank);

const MATTER_OF = { late: 'late', blank: 'blank', marks: 'marks', scales: 'letters' } as const;

function ofNames(school: SchoolRules, { rules }: Governed, set: keyof typeof MATTER_OF): Deviation[] {
  const matter = MATTER_OF[set];
  return namesIn(school, set).flatMap((name): Deviation[] => {
    const is = ownRule(rules, set, name);
    const says = ownRule(school, set, name);
    return is === undefined || saysSame(set, is, says)
      ? []
      : [{ matter, place: { kind: 'rule', name }, is, school: says }];
  });
}

function ofDefault(school: SchoolRules, { rules }: Governed, set: 'late' | 'blank' | 'scales'): Deviation[] {
  const is = defaultOf(rules, set);
  const says = defaultOf(school, set);
  return is === says ? [] : [{ matter: MATTER_OF[set], place: { kind: 'default' }, is, school: says }];
}

/** True where a category or an assessment may be told to go by this rule: it is one of the school's. */
export const isPolicyRule = (school: SchoolRules, set: 'late' | 'blank', name: string | null): boolean =>
  name === null ? school.late === null || school.late === undefined : namesIn(school, set).includes(name);

function ofChoices(school: SchoolRules, { rules, items }: Governed, set: 'late' | 'blank'): Deviation[] {
  const one = (place: Place, is: string | null | undefined): Deviation[] =>
    is === undefined || isPolicyRule(school, set, is)
      ? []
      : [{ matter: set, place, is, school: defaultOf(school, set) }];
  return [
    ...groupsOf(rules.tree).flatMap((g) => one({ kind: 'group', id: g.id }, g[set])),
    ...Object.entries(items).flatMap(([id, i]) => one({ kind: 'item', id }, i[set])),
  ];
}

/** The days that a late rule does not count, each as a text: "6" a day of the week, "2027-01-01" a date. */
export const skipsOf = (rule: LateRule): Set<string> =>
  new Set([...(rule.skipDays ?? []).map(String), ...(rule.skipDates ?? [])]);

/** Days that only the book leaves out, and days that only the school does. */
export interface OtherDays {
  more: string[];
  less: string[];
}

function ofCalendar(school: SchoolRules, { rules }: Governed): Deviation[] {
  const says = skipsOf(byCalendar({}, school.calendar));
  return namesIn(rules, 'late').flatMap((name): Deviation[] => {
    const has = skipsOf(ownRule(rules, 'late', name) as LateRule);
    const is: OtherDays = {
      more: [...has].filter((d) => !says.has(d)).sort(),
      less: [...says].filter((d) => !has.has(d)).sort(),
    };
    return is.more.length + is.less.length === 0
      ? []
      : [{ matter: 'calendar', place: { kind: 'rule', name }, is, school: null }];
  });
}

const ofAllowance = (school: SchoolRules, { rules }: Governed): Deviation[] =>
  allowanceHours(rules) === allowanceHours(school)
    ? []
    : [{ matter: 'allowance', place: { kind: 'value' }, is: allowanceHours(rules), school: allowanceHours(school) }];

const ofRounding = (school: SchoolRules, { rules }: Governed): Deviation[] =>
  sameRounding(rules, school)
    ? []
    : [{ matter: 'rounding', place: { kind: 'value' }, is: rules.rounding, school: school.rounding }];

/** Everything in which a book is other than its school says, in the order of the matters; nothing where books are free. */
export function deviationsOf(school: SchoolRules, book: Governed): Deviation[] {
  const all = [
    ...ofDefault(school, book, 'blank'),
    ...ofNames(school, book, 'blank'),
    ...ofChoices(school, book, 'blank'),
    ...ofDefault(school, book, 'late'),
    ...ofNames(school, book, 'late'),
    ...ofChoices(school, book, 'late'),
    ...ofCalendar(school, book),
    ...ofAllowance(school, book),
    ...ofNames(school, book, 'marks'),
    ...ofRounding(school, book),
    ...ofDefault(school, book, 'scales'),
    ...ofNames(school, book, 'scales'),
  ];
  return all.filter((d) => school.stands[d.matter] !== 'open');
}

/** Departures that a change brings: those that the book before it does not have. */
export function newDeviations(school: SchoolRules, was: Governed | null, is: Governed): Deviation[] {
  const before = new Set(was ? deviationsOf(school, was).map(deviationKey) : []);
  return deviationsOf(school, is).filter((d) => !before.has(deviationKey(d)));
}
