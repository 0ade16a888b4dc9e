import type { Phrase, PhraseScope } from '@contract/work/feedback';
import type { Db } from '../../../kernel/database';

export interface PhraseRow {
  id: string;
  scope: PhraseScope;
  book: string | null;
  person: string;
  version: number;
}

/** What somebody may use in a book: their own, the book's, the school's; the most used first. */
export async function phrasesFor(
  db: Db,
  school: string,
  book: string,
  person: string,
): Promise<(Omit<Phrase, 'mine' | 'by'> & { person: string; family: string; given: string })[]> {
  // prettier-ignore
  const { rows } = await db.query<
    Omit<Phrase, 'mine' | 'by'> & { person: string; family: string; given: string }
  >(
    `select f.id, f.scope, f.words, f.version, f.person, p.family, p.given,
       (select count(*)::int from phrase_use u where u.school = f.school and u.phrase = f.id) as uses
     from phrase f join person p on p.school = f.school and p.id = f.person
     where f.school = $1 and f.removed_at is null
       and (f.scope = 'school' or (f.scope = 'own' and f.person = $3) or (f.scope = 'book' and f.book = $2))
     order by uses desc, f.made_at, f.id`,
    [school, book, person],
  );
  return rows;
}

/** One that is still used, locked; null: there is none of that id. */
export async function phraseOf(db: Db, school: string, id: string): Promise<(PhraseRow & { removed: boolean }) | null> {
  const { rows } = await db.query<PhraseRow & { removed: boolean }>(
    `select id, scope, book, person, version, removed_at is not null as removed from phrase
     where school = $1 and id = $2 for update`,
    [school, id],
  );
  return rows[0] ?? null;
}

export async function putPhrase(db: Db, school: string, f: PhraseRow & { words: string }): Promise<void> {
  await db.query(
    `insert into phrase (school, id, scope, book, person, words, version) values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (school, id) do update set scope = excluded.scope, book = excluded.book, version = excluded.version,
       words = excluded.words, removed_at = null`,
    [school, f.id, f.scope, f.book, f.person, f.words, f.version],
  );
}

/** Offered no more; what it was used for stays. */
export async function removePhrase(db: Db, school: string, id: string, version: number): Promise<void> {
  await db.query('update phrase set removed_at = now(), version = $3 where school = $1 and id = $2', [
    school,
    id,
    version,
  ]);
}

export async function insertUse(db: Db, school: string, phrase: string, operation: string): Promise<void> {
  await db.query('insert into phrase_use (school, phrase, operation) values ($1, $2, $3) on conflict do nothing', [
    school,
    phrase,
    operation,
  ]);
}
