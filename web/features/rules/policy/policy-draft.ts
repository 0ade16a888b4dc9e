import { canonical } from '@core/book/canonical';
import type { RulesPart } from '@core/book/change';
import {
  SCHOOL_RULES_FORMAT,
  byCalendar,
  type Calendar,
  type PolicyArea,
  type SchoolRules,
  type Enforcement,
} from '@core/policy/document';
import type { LateRule } from '@core/book/document';
import type { Governed } from '@core/policy/deviations';
import { applyPolicy } from '@core/policy/apply-policy';
import { settingsFor } from '@core/proposal/proposal';
import type { Draft } from '../draft';

/** The rules of a school as the page writes them: a draft without assessments, with what only a school has. */
export interface SchoolDraft extends Draft {
  calendar: Calendar;
  stands: Record<PolicyArea, Enforcement>;
}

/** What the sentences need of a book: a whole with nothing in it. */
const NO_TREE: RulesPart['tree'] = { id: 'all', type: 'group', combine: 'weights', children: [] };

export function schoolDraftOf({ format: _, calendar, stands, ...rules }: SchoolRules): SchoolDraft {
  return { rules: { ...rules, tree: NO_TREE }, items: [], supposed: [], calendar, stands };
}

export function schoolRulesOf({ rules, calendar, stands }: SchoolDraft): SchoolRules {
  const { tree: _t, hurdles: _h, closing: _c, ...shared } = rules;
  return { format: SCHOOL_RULES_FORMAT, ...shared, calendar, stands };
}

/** Every change of a sentence gives a draft with all that was in the one before it. */
export const asSchool = (draft: Draft): SchoolDraft => draft as SchoolDraft;

export const sameSchool = (a: SchoolDraft, b: SchoolDraft): boolean =>
  canonical(schoolRulesOf(a)) === canonical(schoolRulesOf(b));

/** The school's rules as a book would have them: its late rules skip the days of its calendar. */
export function asInABook(school: SchoolRules): Draft {
  const draft = schoolDraftOf(school);
  const late = Object.fromEntries(
    Object.entries(school.rules?.late ?? {}).map(([name, rule]) => [
      name,
      byCalendar(rule as LateRule, school.calendar),
    ]),
  );
  return { ...draft, rules: { ...draft.rules, rules: { ...draft.rules.rules, late } } };
}

export const governedIn = (draft: Draft): Governed => ({
  rules: draft.rules,
  items: Object.fromEntries(draft.items.map((i) => [i.id, i.settings])),
});

/** A book's draft with the school's word in some matters, in place of its own. */
export function asTheSchoolHasIt(draft: Draft, school: SchoolRules, matters: readonly PolicyArea[]): Draft {
  const stands = Object.fromEntries(
    Object.keys(school.stands).map((m) => [m, matters.includes(m as PolicyArea) ? 'fixed' : 'open']),
  ) as SchoolRules['stands'];
  const is = { ...school, stands };
  const { rules, items } = applyPolicy(is, is, governedIn(draft));
  return {
    ...draft,
    rules,
    items: draft.items.map((i) => ({ ...i, settings: settingsFor(items, i.id) ?? i.settings })),
  };
}
