import type { Item } from '@core/book/document';
import { withoutItems } from '@core/book/mentions';
import { canonical } from '@core/book/canonical';
import type { RulesPart } from '@core/book/change';
import { OPEN_SCHOOL } from '@core/policy/document';
import { applyPolicy } from '@core/policy/apply-policy';
import { settingsFor } from '@core/proposal/proposal';
import { isTimeZone, shiftDays } from '@core/time/local-days';
import { forgetShownNames } from '@core/work/hidden-names';
import type { BookSettings, NewBook, BookCopy } from '@contract/books';
import type { WorkSettings } from '@contract/work/submissions';
import type { Static } from '@contract/wire';
import type pg from 'pg';
import {
  type Author,
  type Commit,
  commitBook,
  commitNewBook,
  assessmentsOf,
  type AssessmentRow,
  assessmentText,
  requireSoundRules,
  findBook,
  roleInBook,
  rulesAt,
  type BookRole,
  termExists,
  insertBook,
  insertRules,
  sectionsOf,
  staffOf,
  type BookRow,
  updateBook,
} from '../books';
import type { BookTransaction } from '../../kernel/book-transaction';
import { type Db } from '../../kernel/database';
import { holdSchool, governedOf, schoolRulesNow } from '../policy';
import { copyInstructions } from '../instructions';
import { copyRubric } from '../marking';
import { Refusal } from '../../kernel/refusal';
import { type LineContent, type Who, personOf } from '../../kernel/journal/sql/lines';
import { type Person, findSchool, personByLogins } from '../accounts';
import { insertAssessment } from '../assessments';
type Maker = Pick<Person, 'school' | 'id' | 'role'>;

/** Rules of a book that the person may read. */
async function rulesFrom(db: Db, maker: Maker, id: string): Promise<RulesPart> {
  const row = await findBook(db, maker.school, id);
  const may = maker.role === 'administrator' || (await roleInBook(db, maker.school, id, maker.id)) !== null;
  if (!row || !may) throw new Refusal('not-found', `You have no book “${id}” whose rules could be taken.`);
  const rules = await rulesAt(db, maker.school, id, row.rulesVersion);
  // What names an assessment of that book has nothing to name in another.
  return withoutItems(rules);
}

interface Fresh {
  id: string;
  term: string;
  title: string;
  timeZone: string | null;
  statement: string | null;
  hidesNames: boolean | null;
  /** A variant of the rules that a section has goes along with the rules. */
  sections: { id: string; title: string; variant?: string | null }[];
  staff: { person: string; role: BookRole }[];
  rules: RulesPart;
  assessments: AssessmentRow[];
}

async function madeBy(db: Db, school: string, book: string): Promise<string | null> {
  return personOf(db, school, book, `made-${book}`);
}

async function makeFresh(db: BookTransaction, maker: Maker, fresh: Fresh): Promise<Commit<void> | null> {
  const { school, id: person } = maker;
  if (!(await termExists(db, school, fresh.term)))
    throw new Refusal('not-found', `There is no term “${fresh.term}”. Nothing was made.`);
  const there = await findBook(db, school, fresh.id);
  if (there) {
    // The same wish once more: its answer was lost on the way.
    const same = there.title === fresh.title && (await madeBy(db, school, fresh.id)) === person;
    if (same) return null;
    throw new Refusal('already-there', `There is a book “${fresh.id}” already.`);
  }
  if (fresh.timeZone !== null && !isTimeZone(fresh.timeZone))
    throw new Refusal('bad-request', `“${fresh.timeZone}” is no time zone. Nothing was made.`);
  const zone = fresh.timeZone ?? (await findSchool(db, school))!.timeZone;
  requireSoundRules(zone, fresh.rules, fresh.assessments);
  // The school's rules stay what they are until the book is there to be reached by the next.
  await holdSchool(db, school, 'read');
  const says = (await schoolRulesNow(db, school)).rules;
  const { rules, items } = applyPolicy(OPEN_SCHOOL, says, governedOf(fresh.rules, fresh.assessments));
  const assessments = fresh.assessments.map((a) => ({ ...a, more: settingsFor(items, a.id) ?? a.more }));
  requireSoundRules(zone, rules, assessments);
  await insertBook(db, { school, ...fresh });
  await insertRules(db, { school, book: fresh.id, version: 1, rules, by: person, reason: 'the book was made' });
  for (const a of assessments) await insertAssessment(db, school, fresh.id, a);
  const lines: LineContent[] = [
    {
      kind: 'book',
      assessment: null,
      enrolment: null,
      was: null,
      becomes: canonical({ title: fresh.title, rules }),
    },
    ...assessments.map((a): LineContent => ({
      kind: 'assessment',
      assessment: a.id,
      enrolment: null,
      was: null,
      becomes: assessmentText(a),
    })),
  ];
  return { lines, answer: () => undefined };
}

const newBookOf = (maker: Maker, book: string): Who => ({ school: maker.school, book, person: maker.id });

/** Makes a book. A teacher who makes one teaches it; the office names who does. */
export function makeBook(pool: pg.Pool, maker: Maker, body: NewBook): Promise<void> {
  return commitNewBook(pool, newBookOf(maker, body.id), async (db) => {
    const ids = await personByLogins(
      db,
      maker.school,
      body.staff.map((s) => s.login),
    );
    const staff = body.staff.map((s) => {
      const id = ids.get(s.login);
      if (!id) throw new Refusal('bad-request', `Nobody on the staff signs in as “${s.login}”. Nothing was made.`);
      return { person: id, role: s.role };
    });
    if (maker.role === 'staff' && !staff.some((s) => s.person === maker.id))
      staff.push({ person: maker.id, role: 'teacher' });
    if (new Set(staff.map((s) => s.person)).size < staff.length)
      throw new Refusal('bad-request', 'Somebody on the staff is named twice. Nothing was made.');
    const given = body.rules as RulesPart | { from: string };
    return makeFresh(db, maker, {
      id: body.id,
      term: body.term,
      title: body.title,
      timeZone: body.timeZone ?? null,
      statement: null,
      hidesNames: null,
      sections: body.sections,
      staff,
      rules: 'from' in given ? await rulesFrom(db, maker, given.from) : given,
      assessments: [],
    });
  });
}

/** A date so many local days on. */
const moved = (zone: string, at: string | null | undefined, days: number): string | null =>
  at == null ? null : new Date(shiftDays(zone, Date.parse(at), days)).toISOString();

function movedMore(zone: string, more: Partial<Item>, days: number): Partial<Item> {
  if (!more.sectionDates) return more;
  const dates = Object.entries(more.sectionDates).map(([section, d]) => {
    const due = moved(zone, d.due, days);
    const closes = moved(zone, d.closes, days);
    return [section, { ...d, ...(due ? { due } : {}), ...(closes ? { closes } : {}) }];
  });
  return { ...more, sectionDates: Object.fromEntries(dates) as NonNullable<Item['sectionDates']> };
}

/** How work is handed in, in a copy: dates move, and names that were shown are hidden anew. */
function copiedWork(zone: string, settings: WorkSettings, days: number): WorkSettings {
  const work = forgetShownNames(settings);
  return work.opens ? { ...work, opens: moved(zone, work.opens, days)! } : work;
}

/** Another book with a book's rules, sections and assessments with their words and rubrics, without its people and their work. */
export function copyBook(pool: pg.Pool, maker: Maker, from: string, body: BookCopy): Promise<void> {
  return commitNewBook(pool, newBookOf(maker, body.id), async (db) => {
    const row = (await findBook(db, maker.school, from))!;
    const assessments = body.assessments ? await assessmentsOf(db, maker.school, from) : [];
    const made = await makeFresh(db, maker, {
      id: body.id,
      term: body.term,
      title: body.title,
      timeZone: row.timeZone,
      statement: row.statement,
      hidesNames: row.hidesNames,
      sections: await sectionsOf(db, maker.school, from),
      // Whose copy it is teaches it; the office's has the same teachers.
      staff:
        maker.role === 'staff'
          ? [{ person: maker.id, role: 'teacher' }]
          : (await staffOf(db, maker.school, from))
              .filter((s) => s.role === 'teacher' || s.role === 'co-teacher')
              .map(({ person, role }) => ({ person, role })),
      rules: await rulesAt(db, maker.school, from, row.rulesVersion),
      assessments: assessments.map((a) => ({
        ...a,
        due: moved(row.timeZone, a.due, body.shiftDays),
        work: copiedWork(row.timeZone, a.work, body.shiftDays),
        closes: moved(row.timeZone, a.closes, body.shiftDays),
        more: movedMore(row.timeZone, a.more, body.shiftDays),
        version: 1,
      })),
    });
    for (const a of assessments) {
      const source = { school: maker.school, book: from, assessment: a.id };
      const copy = { ...source, book: body.id };
      await copyInstructions(db, source, copy, maker.id);
      await copyRubric(db, source, copy, maker.id);
    }
    return made;
  });
}

/** What the settings of a book are, as the journal writes them. */
export const settingsText = (
  row: Pick<BookRow, 'showsStanding' | 'title' | 'archived' | 'statement' | 'hidesNames'>,
  keys: readonly string[],
): string =>
  canonical(
    Object.fromEntries(
      (['showsStanding', 'title', 'archived', 'statement', 'hidesNames'] as const)
        .filter((k) => keys.includes(k))
        .map((k) => [k, row[k]]),
    ),
  );

export function setBook(pool: pg.Pool, who: Author, body: Static<typeof BookSettings>): Promise<{ done: true }> {
  return commitBook(pool, who, body.operation, async (db, { role }) => {
    const row = (await findBook(db, who.school, who.book))!;
    const { operation: _o, ...to } = body;
    if (to.statement) to.statement = to.statement.trim();
    const keys = Object.keys(to);
    if (to.archived !== undefined && role !== 'teacher')
      throw new Refusal('not-allowed', 'Only the teacher of this book puts it away or takes it out again.');
    if (row.archived && to.archived !== false)
      throw new Refusal('not-allowed', 'This book is put away: it is read and not changed. Take it out again first.');
    const answer = (): { done: true } => ({ done: true });
    if (keys.length === 0) return { lines: [], answer };
    await updateBook(db, who.school, who.book, to);
    const line: LineContent = {
      kind: 'settings',
      assessment: null,
      enrolment: null,
      was: settingsText(row, keys),
      becomes: settingsText({ ...row, ...to }, keys),
    };
    return { lines: [line], answer };
  });
}
