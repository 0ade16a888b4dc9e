import { checkBook } from '../book/checks/check';
import { Problems, type Problem } from '../book/checks/problems';
import { parseDate } from '../time/moment';
import { choice, has, list, number, object, text } from '../book/checks/shapes';
import { POLICY_AREAS, SCHOOL_RULES_FORMAT, ENFORCEMENTS, namesIn, ownRule, type SchoolRules } from './document';

export type CheckedSchool = { ok: true; school: SchoolRules } | { ok: false; problems: Problem[]; more: number };

/** Closures of a calendar at most, and the days of one. */
export const MOST_CLOSURES = 200;
export const LONGEST_CLOSURE = 366;

const RULES = ['rules', 'blank', 'late', 'scale', 'rounding', 'lateAllowanceHours'];

/** Checks the rules of a school as the contract checks a book's, and what only a school has. Nothing is thrown. */
export function checkSchoolRules(v: unknown): CheckedSchool {
  const p = new Problems();
  const keys = ['format', 'calendar', 'stands', ...RULES];
  if (!object(p, '', v, keys, ['format', 'calendar', 'stands', 'blank', 'rounding']))
    return { ok: false, problems: p.listed, more: p.more };
  if (has(v, 'format')) choice(p, '/format', v['format'], [SCHOOL_RULES_FORMAT]);
  if (has(v, 'calendar')) checkCalendar(p, v['calendar']);
  if (has(v, 'stands') && object(p, '/stands', v['stands'], [...POLICY_AREAS], [...POLICY_AREAS]))
    for (const m of POLICY_AREAS) if (has(v['stands'], m)) choice(p, `/stands/${m}`, v['stands'][m], [...ENFORCEMENTS]);
  const asBook = checkBook({
    format: 'last-tally.book/1',
    timeZone: 'UTC',
    asOf: '2000-01-01T00:00:00Z',
    tree: { id: 'all', type: 'group', combine: 'weights', children: [] },
    students: [],
    entries: [],
    ...Object.fromEntries(RULES.filter((key) => has(v, key)).map((key) => [key, v[key]])),
  });
  if (!asBook.ok)
    // What is missing is said above already.
    for (const { at, says } of asBook.problems) if (at !== '') p.add(at, says);
  if (p.none) {
    const school = v as unknown as SchoolRules;
    for (const name of namesIn(school, 'late')) {
      const rule = ownRule(school, 'late', name) as object;
      if ('skipDays' in rule || 'skipDates' in rule)
        p.add(`/rules/late/${name}`, 'Days that are not counted are the calendar’s, not a rule’s.');
    }
  }
  return p.none
    ? { ok: true, school: v as unknown as SchoolRules }
    : { ok: false, problems: p.listed, more: p.more + (asBook.ok ? 0 : asBook.more) };
}

function checkCalendar(p: Problems, v: unknown): void {
  const at = '/calendar';
  if (!object(p, at, v, ['days', 'closures'], ['days', 'closures'])) return;
  if (list(p, `${at}/days`, v['days'])) {
    const days = v['days'];
    days.forEach((d, i) => {
      if (!number(p, `${at}/days/${i}`, d)) return;
      if (!Number.isInteger(d) || d < 1 || d > 7)
        p.add(`${at}/days/${i}`, 'A day of the week is a number from 1 (Monday) to 7 (Sunday).');
      else if (days.indexOf(d) < i) p.add(`${at}/days/${i}`, 'This day of the week is named twice.');
    });
  }
  if (!list(p, `${at}/closures`, v['closures'])) return;
  if (v['closures'].length > MOST_CLOSURES)
    p.add(`${at}/closures`, `A calendar has at most ${MOST_CLOSURES} closures.`);
  else v['closures'].forEach((c, i) => checkClosure(p, `${at}/closures/${i}`, c));
}

function checkClosure(p: Problems, at: string, c: unknown): void {
  if (!object(p, at, c, ['title', 'from', 'to'], ['title', 'from', 'to'])) return;
  if (has(c, 'title') && text(p, `${at}/title`, c['title']) && c['title'].length > 100)
    p.add(`${at}/title`, 'A closure has a title of at most 100 letters.');
  const from = dateAt(p, `${at}/from`, c['from']);
  const to = dateAt(p, `${at}/to`, c['to']);
  if (from === null || to === null) return;
  if (to < from) p.add(`${at}/to`, 'This closure ends before it begins.');
  else if (to - from >= LONGEST_CLOSURE) p.add(`${at}/to`, `A closure is at most ${LONGEST_CLOSURE} days long.`);
}

/** Days since 1970; null where it is no date, which is said. */
function dateAt(p: Problems, at: string, v: unknown): number | null {
  if (v === undefined) return null;
  const day = typeof v === 'string' && v >= '1900' && v < '3000' ? parseDate(v) : null;
  if (day === null) p.add(at, 'This is no date such as 2027-01-01.');
  return day;
}
