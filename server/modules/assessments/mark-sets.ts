import { BUILT_IN_MARKS } from '@core/book/built-in-marks';
import { canonical } from '@core/book/canonical';
import type { RulesPart } from '@core/book/change';
import type { BookTransaction } from '../../kernel/book-transaction';
import { type LineContent, type Who } from '../../kernel/journal/sql/lines';
import { type BookRow, insertRules } from '../books';

/** Rules that have every set of marks that these assessments name; the same object where nothing had to be added. */
export function withMarks(rules: RulesPart, named: string | null | undefined): RulesPart {
  if (!named || rules.rules?.marks?.[named] || !BUILT_IN_MARKS[named]) return rules;
  return { ...rules, rules: { ...rules.rules, marks: { ...rules.rules?.marks, [named]: [...BUILT_IN_MARKS[named]] } } };
}

/** Keeps rules that had to grow by a set of marks; gives the journal's line of it, or none. */
export async function keepRules(
  db: BookTransaction,
  who: Who,
  row: BookRow,
  was: RulesPart,
  is: RulesPart,
): Promise<LineContent[]> {
  if (was === is) return [];
  const version = row.rulesVersion + 1;
  await insertRules(db, { ...who, version, rules: is, by: who.person, reason: 'named marks for an assessment' });
  return [{ kind: 'rules', assessment: null, enrolment: null, was: canonical(was), becomes: canonical(is) }];
}
