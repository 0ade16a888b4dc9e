import type { KeptTrial, TrialWrite } from '@contract/rules';
import type { Db } from '../../kernel/database';

export interface Keeper {
  school: string;
  book: string;
  person: string;
}

/** The trials that somebody keeps in a book, the first kept first. */
export async function trialsOf(db: Db, who: Keeper): Promise<KeptTrial[]> {
  const { rows } = await db.query<Omit<KeptTrial, 'body'> & { body: string }>(
    `select id, title, made_at as "madeAt", body from saved_trial where school = $1 and book = $2 and person = $3
     order by made_at, id`,
    [who.school, who.book, who.person],
  );
  return rows.map((r) => ({ ...r, body: JSON.parse(r.body) as KeptTrial['body'] }));
}

/** Keeps a trial; false where the person has `most` others already. */
export async function putTrial(db: Db, who: Keeper, id: string, write: TrialWrite, most: number): Promise<boolean> {
  const { rowCount } = await db.query(
    `insert into saved_trial (school, book, person, id, title, body, made_at)
     select $1, $2, $3, $4, $5, $6, school_now($1) where (select count(*) from saved_trial
       where school = $1 and book = $2 and person = $3 and id <> $4) < $7
     on conflict (school, book, person, id) do update set title = excluded.title, body = excluded.body`,
    [who.school, who.book, who.person, id, write.title, JSON.stringify(write.body), most],
  );
  return rowCount === 1;
}

export async function deleteTrial(db: Db, who: Keeper, id: string): Promise<void> {
  await db.query('delete from saved_trial where school = $1 and book = $2 and person = $3 and id = $4', [
    who.school,
    who.book,
    who.person,
    id,
  ]);
}
