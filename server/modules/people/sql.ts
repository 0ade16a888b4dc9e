import type { BookTransaction } from '../../kernel/book-transaction';
import type { Db } from '../../kernel/database';
import { ACCOUNT, type Account } from '../books';

/** A student of the school, as a list of students may name them. */
export interface KnownStudent {
  person: string;
  family: string;
  given: string;
  number: string;
  mail: string;
}

/** Somebody whom a line may mean; a number may also be that of one of the staff, who is no student. */
export interface KnownPerson extends KnownStudent {
  isStudent: boolean;
}

/**
 * The students of a school that any of these numbers, mail addresses or names (lower case "family|given") could mean,
 * and whoever else has one of the numbers.
 */
export async function studentsLike(
  db: Db,
  school: string,
  like: { numbers: string[]; mails: string[]; names: string[] },
): Promise<KnownPerson[]> {
  const { rows } = await db.query<KnownPerson>(
    `select id as person, family, given, number, mail, role = 'student' as "isStudent" from person
     where school = $1 and (number <> '' and number = any($2)
       or role = 'student' and (mail <> '' and lower(mail) = any($3) or lower(family) || '|' || lower(given) = any($4)))`,
    [school, like.numbers, like.mails, like.names],
  );
  return rows;
}

/** Which of these sign-in names are taken, in any school. */
export async function loginsTaken(db: Db, logins: string[]): Promise<Set<string>> {
  const { rows } = await db.query<{ login: string }>('select login from person where login = any($1)', [logins]);
  return new Set(rows.map((r) => r.login));
}

/** Adds new students with ids that were chosen before. */
export async function insertStudents(db: Db, school: string, all: (KnownStudent & { login: string })[]): Promise<void> {
  await db.query(
    `insert into person (school, id, login, family, given, number, mail, role)
     select $1, n.*, 'student' from unnest($2::text[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[]) as n`,
    [
      school,
      all.map((p) => p.person),
      all.map((p) => p.login),
      all.map((p) => p.family),
      all.map((p) => p.given),
      all.map((p) => p.number),
      all.map((p) => p.mail),
    ],
  );
}

/** Enrols people with ids that were chosen before. */
export async function insertEnrolments(
  db: BookTransaction,
  school: string,
  book: string,
  all: { id: string; person: string; section: string | null }[],
): Promise<void> {
  await db.query(
    `with made as (insert into enrolment (school, book, id, person, section)
       select $1, $2, n.* from unnest($3::text[], $4::text[], $5::text[]) as n returning id, section)
     insert into stay (school, book, enrolment, number, section, since)
       select $1, $2, id, 1, section, (select school_now($1)) from made`,
    [school, book, all.map((e) => e.id), all.map((e) => e.person), all.map((e) => e.section)],
  );
}

export interface Invitee {
  mail: string;
  person: string;
  login: string;
  family: string;
  given: string;
  role: string;
  account: Account;
}

/** People of a school by sign-in name; only those who are in the book, where one is named. */
export async function inviteesOf(db: Db, school: string, logins: string[], book: string | null): Promise<Invitee[]> {
  const { rows } = await db.query<Invitee>(
    `select p.id as person, p.login, p.family, p.given, p.role, p.mail, ${ACCOUNT} as account from person p
     where p.school = $1 and p.login = any($2) and p.active and ($3::text is null
       or exists (select 1 from enrolment e where e.school = p.school and e.book = $3 and e.person = p.id and e.left_at is null))
     order by lower(p.family), lower(p.given)`,
    [school, logins, book],
  );
  return rows;
}

/** Who signs in as this, or has this mail address, and can be sent a link; held, so that nobody is sent two at once. */
export async function holdForgetful(
  db: Db,
  name: string,
): Promise<{ school: string; person: string; login: string }[]> {
  const { rows } = await db.query<{ school: string; person: string; login: string }>(
    `select school, id as person, login from person
     where active and mail <> '' and (login = $1 or lower(mail) = $1) order by login limit 5 for no key update`,
    [name],
  );
  return rows;
}

export async function personSigningIn(db: Db, login: string): Promise<{ school: string; person: string } | null> {
  const { rows } = await db.query<{ school: string; person: string }>(
    'select school, id as person from person where login = $1 and active',
    [login],
  );
  return rows[0] ?? null;
}

/** Whether somebody asked for a link of their own within so many minutes. */
export async function askedLately(db: Db, school: string, person: string, minutes: number): Promise<boolean> {
  const { rowCount } = await db.query(
    `select 1 from invitation where school = $1 and person = $2 and forgotten
       and made_at > now() - make_interval(mins => $3)`,
    [school, person, minutes],
  );
  return rowCount === 1;
}

/** A new link takes the place of an earlier one of its kind. */
export async function putInvitation(
  db: Db,
  i: { hash: string; school: string; person: string; by: string; until: string; forgotten: boolean },
): Promise<void> {
  await db.query('delete from invitation where school = $1 and person = $2 and forgotten = $3', [
    i.school,
    i.person,
    i.forgotten,
  ]);
  await db.query(
    'insert into invitation (hash, school, person, made_by, expires_at, forgotten) values ($1, $2, $3, $4, $5, $6)',
    [i.hash, i.school, i.person, i.by, i.until, i.forgotten],
  );
}

/** Whether an invitation can still be taken up. */
export async function invitationStands(db: Db, hash: string): Promise<boolean> {
  const { rowCount } = await db.query('select 1 from invitation where hash = $1 and expires_at > now()', [hash]);
  return rowCount === 1;
}

/** Takes up an invitation: its person gets the password, and every session of theirs ends. Null: there is none such. */
export async function takeInvitation(db: Db, hash: string, passwordHash: string): Promise<string | null> {
  const { rows } = await db.query<{ school: string; person: string }>(
    'delete from invitation where hash = $1 and expires_at > now() returning school, person',
    [hash],
  );
  const taken = rows[0];
  if (!taken) return null;
  // Whoever has chosen a password needs no other link.
  await db.query('delete from invitation where school = $1 and person = $2', [taken.school, taken.person]);
  const { rows: people } = await db.query<{ login: string }>(
    'update person set password_hash = $3 where school = $1 and id = $2 and active returning login',
    [taken.school, taken.person, passwordHash],
  );
  await db.query(`delete from session where sess ->> 'school' = $1 and sess ->> 'person' = $2`, [
    taken.school,
    taken.person,
  ]);
  return people[0]?.login ?? null;
}
