import type { SchoolRules } from '@core/policy/document';
import type { Db } from '../../../kernel/database';
import { personName } from '../../accounts';

/** A version of a school's rules with who made it, when and why. */
export interface SchoolVersion {
  version: number;
  rules: SchoolRules;
  at: string;
  by: string;
  reason: string;
}

type Raw = Omit<SchoolVersion, 'rules' | 'by'> & { body: string; family: string; given: string };
const VERSION = `select r.version, r.body, r.made_at as at, r.reason, p.family, p.given from school_rules r
  join person p on p.school = r.school and p.id = r.made_by`;
const toVersion = ({ body, family, given, ...r }: Raw): SchoolVersion => ({
  ...r,
  rules: JSON.parse(body) as SchoolRules,
  by: personName({ family, given }),
});

/** The version in force; null where the school has said nothing yet. */
export async function latestRules(db: Db, school: string): Promise<SchoolVersion | null> {
  const { rows } = await db.query<Raw>(`${VERSION} where r.school = $1 order by r.version desc limit 1`, [school]);
  return rows[0] ? toVersion(rows[0]) : null;
}

/** All versions, the last first. */
export async function allVersions(db: Db, school: string): Promise<SchoolVersion[]> {
  return (await db.query<Raw>(`${VERSION} where r.school = $1 order by r.version desc`, [school])).rows.map(toVersion);
}

/** One version's rules; null where there is none. */
export async function rulesOfVersion(db: Db, school: string, version: number): Promise<SchoolVersion | null> {
  const { rows } = await db.query<Raw>(`${VERSION} where r.school = $1 and r.version = $2`, [school, version]);
  return rows[0] ? toVersion(rows[0]) : null;
}

/** The version that an operation made; null where it has not. */
export async function versionOf(db: Db, school: string, operation: string): Promise<number | null> {
  const { rows } = await db.query<{ version: number }>(
    'select version from school_rules where school = $1 and operation = $2',
    [school, operation],
  );
  return rows[0]?.version ?? null;
}

export async function insertVersion(
  db: Db,
  v: { school: string; version: number; operation: string; rules: SchoolRules; by: string; reason: string },
): Promise<void> {
  await db.query(
    'insert into school_rules (school, version, operation, body, made_by, reason, made_at) values ($1, $2, $3, $4, $5, $6, school_now($1))',
    [v.school, v.version, v.operation, JSON.stringify(v.rules), v.by, v.reason],
  );
}

/** Locks the school until the transaction ends: `change` alone; `read` beside other readers. */
export async function holdSchool(db: Db, school: string, how: 'change' | 'read'): Promise<void> {
  await db.query(`select 1 from school where id = $1 for ${how === 'change' ? 'no key update' : 'share'}`, [school]);
}

/** A book that the rules of its school reach: in use, its term not ended on a day. */
export interface ReachedBook {
  id: string;
  title: string;
  term: string;
}

export async function reachedBooks(db: Db, school: string, day: string): Promise<ReachedBook[]> {
  const { rows } = await db.query<ReachedBook>(
    `select b.id, b.title, t.title as term from book b join term t on t.school = b.school and t.id = b.term
     where b.school = $1 and b.archived_at is null and t.ends >= $2::date order by t.starts, b.title, b.id`,
    [school, day],
  );
  return rows;
}

/** A version of a book's rules as the text that is kept, the last first. */
export interface BookVersion {
  rules: string;
  at: string;
  by: string;
  reason: string;
}

export async function versionsOfBook(db: Db, school: string, book: string): Promise<BookVersion[]> {
  const { rows } = await db.query<Omit<BookVersion, 'by'> & { family: string; given: string }>(
    `select v.rules, v.made_at as at, v.reason, p.family, p.given from rules_version v
     join person p on p.school = v.school and p.id = v.made_by
     where v.school = $1 and v.book = $2 order by v.version desc`,
    [school, book],
  );
  return rows.map(({ family, given, ...r }) => ({ ...r, by: personName({ family, given }) }));
}

/** What an assessment became with every line of the journal that is about it, the last first. */
export async function linesOfAssessment(
  db: Db,
  school: string,
  book: string,
  assessment: string,
): Promise<{ becomes: string | null; at: string; by: string; reason: string }[]> {
  const { rows } = await db.query<{
    becomes: string | null;
    at: string;
    reason: string;
    family: string;
    given: string;
  }>(
    `select j.becomes, j.at, coalesce(r.reason, '') as reason, p.family, p.given from journal j
     join person p on p.school = j.school and p.id = j.person
     left join journal_reason r on r.school = j.school and r.book = j.book and r.batch = j.batch
     where j.school = $1 and j.book = $2 and j.assessment = $3 and j.enrolment is null and j.kind = 'assessment'
     order by j.seq desc`,
    [school, book, assessment],
  );
  return rows.map(({ family, given, ...r }) => ({ ...r, by: personName({ family, given }) }));
}
