import type { Role } from '@contract/accounts';
import { newId, type Db } from '../../../kernel/database';

export interface Person {
  school: string;
  id: string;
  login: string;
  family: string;
  given: string;
  role: Role;
}

export interface School {
  id: string;
  title: string;
  timeZone: string;
  /** The moment that counts, by the school's own clock. */
  now: string;
  wantsReasons: boolean;
  /** What students tick before they hand in; '' nothing. */
  statement: string;
  /** Assessments that take work are marked without names, unless their book says otherwise. */
  hidesNames: boolean;
}

/** "R. Aldous" for staff, "Con Farrelly" for a student. */
export const personName = (p: { given: string; family: string; role?: string }): string =>
  p.given === '' ? p.family : p.role === 'student' ? `${p.given} ${p.family}` : `${p.given[0]}. ${p.family}`;

export async function anySchool(db: Db): Promise<boolean> {
  return (await db.query('select 1 from school limit 1')).rowCount !== 0;
}

/** Nobody else makes a school until the transaction ends. */
export async function lockSchools(db: Db): Promise<void> {
  await db.query('lock table school in exclusive mode');
}

/** `clock`: where the clock of a made-up school begins; null: the machine's, of a real one. */
export async function insertSchool(
  db: Db,
  s: Pick<School, 'id' | 'title' | 'timeZone'> & { clock: string | null },
): Promise<void> {
  await db.query(
    `insert into school (id, title, time_zone, clock_offset, demo)
     values ($1, $2, $3, coalesce($4::timestamptz - clock_timestamp(), '0'), $4 is not null)`,
    [s.id, s.title, s.timeZone, s.clock],
  );
}

/** There is a school that was made up to look at. */
export async function anyDemo(db: Db): Promise<boolean> {
  return (await db.query('select 1 from school where demo limit 1')).rowCount !== 0;
}

export async function insertSetupCode(db: Db, hash: string): Promise<void> {
  await db.query('insert into setup_code (hash) values ($1) on conflict do nothing', [hash]);
}

export async function isSetupCode(db: Db, hash: string): Promise<boolean> {
  return (await db.query('select 1 from setup_code where hash = $1', [hash])).rowCount !== 0;
}

export async function deleteSetupCodes(db: Db): Promise<void> {
  await db.query('delete from setup_code');
}

export async function findSchool(db: Db, id: string): Promise<School | null> {
  const { rows } = await db.query<School>(
    `select id, title, time_zone as "timeZone", school_now(id) as now, wants_reasons as "wantsReasons", statement,
       hides_names as "hidesNames"
     from school where id = $1`,
    [id],
  );
  return rows[0] ?? null;
}

/** What is left out stays. */
export async function updateSchool(
  db: Db,
  school: string,
  to: { wantsReasons?: boolean; statement?: string; hidesNames?: boolean },
): Promise<void> {
  await db.query(
    `update school set wants_reasons = coalesce($2, wants_reasons), statement = coalesce($3, statement),
       hides_names = coalesce($4, hides_names) where id = $1`,
    [school, to.wantsReasons ?? null, to.statement?.trim() ?? null, to.hidesNames ?? null],
  );
}

export interface NewPerson {
  login: string;
  family: string;
  given: string;
  number: string;
  mail: string;
  role: Role;
  passwordHash: string | null;
}

/** Adds people; gives the logins or numbers that were already taken, and adds nobody when there is one. */
export async function insertPeople(db: Db, school: string, people: NewPerson[]): Promise<string[]> {
  const { rows } = await db.query<{ taken: string }>(
    `select login as taken from person where login = any($1)
     union all select number from person where school = $2 and number <> '' and number = any($3)`,
    [people.map((p) => p.login), school, people.map((p) => p.number)],
  );
  if (rows.length > 0) return rows.map((r) => r.taken);
  await db.query(
    `insert into person (school, id, login, family, given, number, mail, role, password_hash)
     select $1, * from unnest($2::text[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::text[], $9::text[])`,
    [
      school,
      people.map(() => newId('p')),
      people.map((p) => p.login),
      people.map((p) => p.family),
      people.map((p) => p.given),
      people.map((p) => p.number),
      people.map((p) => p.mail),
      people.map((p) => p.role),
      people.map((p) => p.passwordHash),
    ],
  );
  return [];
}

export async function findForSignIn(db: Db, login: string): Promise<(Person & { passwordHash: string | null }) | null> {
  const { rows } = await db.query<Person & { passwordHash: string | null }>(
    `select school, id, login, family, given, role, password_hash as "passwordHash" from person where login = $1 and active`,
    [login],
  );
  return rows[0] ?? null;
}

export async function findPerson(db: Db, school: string, id: string): Promise<Person | null> {
  const { rows } = await db.query<Person>(
    `select school, id, login, family, given, role from person where school = $1 and id = $2 and active`,
    [school, id],
  );
  return rows[0] ?? null;
}

export async function personByLogins(db: Db, school: string, logins: string[]): Promise<Map<string, string>> {
  const { rows } = await db.query<{ login: string; id: string }>(
    `select login, id from person where school = $1 and login = any($2) and role = 'staff'`,
    [school, logins],
  );
  return new Map(rows.map((r) => [r.login, r.id]));
}
