import { newId, type Db } from '../../kernel/database';
import type { MailKind } from '@contract/mail';

/** A mail as it is made: to one person. `path`: where it leads within the application, '' nowhere. */
export interface NewMail {
  person: string;
  kind: MailKind;
  subject: string;
  body: string;
  path: string;
  /** After this it leads nowhere, and is not sent any more; by the machine's clock. */
  voidAt?: string;
}

export interface WaitingMail extends Omit<NewMail, 'voidAt'> {
  school: string;
  id: string;
  /** '' where the person has none. */
  address: string;
  name: string;
  schoolTitle: string;
  tries: number;
  void: boolean;
}

/** Puts these in; gives their ids in the same order. */
export async function insertMails(db: Db, school: string, mails: readonly NewMail[]): Promise<string[]> {
  const ids = mails.map(() => newId('m'));
  await db.query(
    `insert into mail (school, id, person, kind, subject, body, path, void_at)
     select $1, * from unnest($2::text[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::timestamptz[])`,
    [
      school,
      ids,
      mails.map((m) => m.person),
      mails.map((m) => m.kind),
      mails.map((m) => m.subject),
      mails.map((m) => m.body),
      mails.map((m) => m.path),
      mails.map((m) => m.voidAt ?? null),
    ],
  );
  return ids;
}

/** The next of a school's mails whose moment has come, held by nobody else since one worker alone sends a school's. */
export async function nextMail(db: Db, school: string): Promise<WaitingMail | null> {
  const { rows } = await db.query<WaitingMail>(
    `select m.school, m.id, m.person, m.kind, m.subject, m.body, m.path, m.tries, p.mail as address,
       coalesce(m.void_at <= now(), false) as void,
       concat_ws(' ', nullif(p.given, ''), p.family) as name, s.title as "schoolTitle"
     from mail m join person p on p.school = m.school and p.id = m.person join school s on s.id = m.school
     where m.school = $1 and m.state = 'waiting' and m.next_try_at <= now()
     order by m.next_try_at, m.made_at, m.id limit 1`,
    [school],
  );
  return rows[0] ?? null;
}

/** A link that went out stands nowhere here any more: whoever has it can choose a password. */
const NO_LINK = `path = case when kind = 'link' then '' else path end`;

export async function markSent(db: Db, school: string, id: string): Promise<void> {
  await db.query(
    `update mail set state = 'sent', sent_at = now(), tries = tries + 1, fault = '', ${NO_LINK}
     where school = $1 and id = $2`,
    [school, id],
  );
}

export async function markRefused(db: Db, school: string, id: string, fault: string): Promise<void> {
  await db.query(`update mail set state = 'refused', tries = tries + 1, fault = $3 where school = $1 and id = $2`, [
    school,
    id,
    fault,
  ]);
}

/** Pauses double from half a minute up to four hours. */
const PAUSE = `make_interval(secs => least(30 * 2.0 ^ tries, 14400))`;

/**
 * One try more was in vain; given up after `most` of them. `all`: the server itself does not answer, so the school's other
 * mails wait with this one.
 */
export async function markTried(
  db: Db,
  school: string,
  id: string,
  { fault, most, all }: { fault: string; most: number; all: boolean },
): Promise<void> {
  await db.query(
    `update mail set tries = tries + 1, fault = $3, next_try_at = now() + ${PAUSE},
       state = case when tries + 1 >= $4 then 'given-up' else state end
     where school = $1 and state = 'waiting' and next_try_at <= now() and (id = $2 or $5)`,
    [school, id, fault, most, all],
  );
}

/** Schools with mail whose moment has come. */
export async function schoolsWithMail(db: Db): Promise<{ school: string }[]> {
  const { rows } = await db.query<{ school: string }>(
    `select distinct school from mail where state = 'waiting' and next_try_at <= now()`,
  );
  return rows;
}

export interface UndeliveredRow {
  id: string;
  family: string;
  given: string;
  address: string;
  kind: MailKind;
  subject: string;
  madeAt: string;
  tries: number;
  fault: string;
}

const UNDELIVERED = `state in ('refused', 'given-up')`;

/** What reached nobody, the latest first. */
export async function undeliveredOf(db: Db, school: string, most: number): Promise<UndeliveredRow[]> {
  const { rows } = await db.query<UndeliveredRow>(
    // When a receipt was sent says whose work came then, where names are hidden: the day and no title is told.
    `select m.id, p.family, p.given, p.mail as address, m.kind, case when h.hidden then 'A receipt' else m.subject end as subject,
       case when h.hidden then date_trunc('day', m.made_at) else m.made_at end as "madeAt", m.tries, m.fault
     from mail m join person p on p.school = m.school and p.id = m.person
       cross join lateral (select m.kind = 'receipt' and exists (select 1 from assessment a where a.school = m.school
         and a.names_hidden and m.path = '/my/' || a.book || '/' || a.id) as hidden) h
     where m.school = $1 and m.${UNDELIVERED} order by m.made_at desc, m.id limit $2`,
    [school, most],
  );
  return rows;
}

export async function countMails(db: Db, school: string): Promise<{ waiting: number; undelivered: number }> {
  const { rows } = await db.query<{ waiting: number; undelivered: number }>(
    `select count(*) filter (where state = 'waiting')::int as waiting,
       count(*) filter (where ${UNDELIVERED})::int as undelivered from mail where school = $1 and state <> 'sent'`,
    [school],
  );
  return rows[0]!;
}

/** Those of them that reached nobody wait again, with all their tries. */
export async function resendMails(db: Db, school: string, ids: readonly string[]): Promise<number> {
  const { rowCount } = await db.query(
    `update mail set state = 'waiting', tries = 0, next_try_at = now(), fault = ''
     where school = $1 and id = any($2) and ${UNDELIVERED}`,
    [school, ids],
  );
  return rowCount ?? 0;
}
