import type { SchoolRules } from '@core/policy/document';
import { RULE_SETS } from './books';

/** What the office of the college says for all books. */
export const SCHOOL_RULES: SchoolRules = {
  format: 'last-tally.school-rules/1',
  rules: RULE_SETS,
  blank: 'usual',
  late: 'steady',
  scale: 'letters',
  rounding: { decimals: 1, mode: 'half-up' },
  calendar: {
    days: [],
    closures: [
      { title: 'Winter closure', from: '2026-12-21', to: '2027-01-03' },
      { title: 'Drainage board day', from: '2027-02-08', to: '2027-02-08' },
    ],
  },
  stands: {
    blank: 'begins',
    late: 'begins',
    calendar: 'fixed',
    allowance: 'begins',
    marks: 'open',
    rounding: 'begins',
    letters: 'begins',
  },
};
