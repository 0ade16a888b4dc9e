import type { Db } from '../../../kernel/database';

export interface SlipPlace {
  school: string;
  book: string;
  assessment: string;
  enrolment: string;
}

export type SlipTraceKind = 'opened' | 'played' | 'fetched';

/** When something of each student's slip was released last, of those to whom something is. */
const RELEASED = `select enrolment, assessment, max(released_at) as at from (
    select enrolment, assessment, released_at from released_entry
    where school = $1 and book = $2 and withdrawn_at is null
    union all select enrolment, assessment, released_at from released_part
    where school = $1 and book = $2 and withdrawn_at is null) x`;

/** What a student did with a release, the first time; false where nothing is released to them. */
export async function insertSlipTrace(
  db: Db,
  p: SlipPlace,
  t: { kind: SlipTraceKind; file?: string | undefined },
): Promise<boolean> {
  const { rows } = await db.query<{ released: boolean }>(
    `with r as (${RELEASED} where enrolment = $3 and assessment = $4 group by enrolment, assessment),
       new as (
         insert into slip_trace (school, book, enrolment, assessment, kind, file, released_at, at)
         select $1, $2, $3, $4, $5, $6, r.at, school_now($1) from r on conflict do nothing returning 1),
       told as (select pg_notify('slips', $7) from new)
     select exists (select 1 from r) as released, (select count(*) from told) as told`,
    [
      p.school,
      p.book,
      p.enrolment,
      p.assessment,
      t.kind,
      t.file ?? '',
      [p.school, p.book, p.assessment, '-'].join(' '),
    ],
  );
  return rows[0]!.released;
}

/** Of one student, by assessment: when something was released last, and whether it was opened since. */
export async function freshSlips(
  db: Db,
  p: { school: string; book: string; enrolment: string },
): Promise<Map<string, { releasedAt: string; fresh: boolean }>> {
  const { rows } = await db.query<{ assessment: string; at: string; fresh: boolean }>(
    `select r.assessment, r.at, not exists (select 1 from slip_trace t where t.school = $1 and t.book = $2
         and t.enrolment = $3 and t.assessment = r.assessment and t.kind = 'opened' and t.released_at = r.at) as fresh
     from (${RELEASED} where enrolment = $3 group by enrolment, assessment) r`,
    [p.school, p.book, p.enrolment],
  );
  return new Map(rows.map((r) => [r.assessment, { releasedAt: r.at, fresh: r.fresh }]));
}

export interface Delivery {
  enrolment: string;
  releasedAt: string;
  told: string | null;
  mailed: string | null;
  opened: string | null;
  played: string | null;
  fetched: string | null;
}

/** What became of the last release of one assessment, by student: told, and what they did first. */
export async function deliveriesOf(
  db: Db,
  p: { school: string; book: string; assessment: string },
  path: string,
): Promise<Delivery[]> {
  const { rows } = await db.query<Delivery>(
    `select r.enrolment, r.at as "releasedAt", n.at as told, n.sent_at as mailed, t.opened, t.played, t.fetched
     from (${RELEASED} where assessment = $3 group by enrolment, assessment) r
       left join lateral (select n.at, m.sent_at from notice n left join mail m on m.school = n.school and m.id = n.mail
         where n.school = $1 and n.book = $2 and n.enrolment = r.enrolment and n.path = $4 and n.kind = 'told' and n.at >= r.at
         order by n.at desc limit 1) n on true
       left join lateral (select min(t.at) filter (where t.kind = 'opened') as opened,
           min(t.at) filter (where t.kind = 'played') as played, min(t.at) filter (where t.kind = 'fetched') as fetched
         from slip_trace t where t.school = $1 and t.book = $2 and t.enrolment = r.enrolment and t.assessment = $3
           and t.released_at = r.at) t on true`,
    [p.school, p.book, p.assessment, path],
  );
  return rows;
}

/** Says that something of an assessment was released or withdrawn at a moment: to those whom it concerns, and to staff. */
export async function tellSlips(
  db: Db,
  p: { school: string; book: string; assessment: string },
  at: string,
): Promise<void> {
  await db.query(`select pg_notify('slips', $1)`, [[p.school, p.book, p.assessment, at].join(' ')]);
}
