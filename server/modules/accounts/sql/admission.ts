import type pg from 'pg';
import type { BookRole } from '../../books';
import { listValue, type Db } from '../../../kernel/database';
import { BatchLoader } from '../../../kernel/batch-loader';
import type { Person } from './persons';

/** Under which session somebody asks, and of which book ('' of none). */
export interface AdmissionQuery {
  session: string;
  book: string;
}

/** Who asks, where the session stands and the person is active; the session's token; what they are in the book. */
export interface Identity {
  person: Person;
  token: string;
  bookThere: boolean;
  /** The book is put away: it is read and not changed. */
  bookArchived: boolean;
  role: BookRole | null;
  /** Assessments of the book in which it is not said whose work is whose. */
  hidden: string[];
}

interface Row extends Person {
  token: string;
  there: boolean;
  archived: boolean;
  bookRole: BookRole | null;
  hidden: string[];
  at: number;
}

/** Answers that are remembered at most. */
const MAX_REMEMBERED = 5_000;

const keyOf = ({ session, book }: AdmissionQuery): string => `${session} ${book}`;

/** Looks up who somebody is and what they are in a book: one question to the database for all who ask at once. */
export class Admission {
  private readonly loader: BatchLoader<AdmissionQuery, Identity | null>;
  private readonly answers = new Map<string, Identity>();

  constructor(pool: pg.Pool) {
    this.loader = new BatchLoader<AdmissionQuery, Identity | null>(async (asked) => {
      const { rows } = await pool.query<Row>({
        name: 'admission',
        // Asked before anything else: a database that hangs is told of here.
        query_timeout: 5_000,
        text: `select p.school, p.id, p.login, p.family, p.given, p.role, s.token, n.at::int,
            exists (select 1 from book b where b.school = p.school and b.id = n.book) as there,
            exists (select 1 from book b where b.school = p.school and b.id = n.book and b.archived_at is not null) as archived,
            (select w.role from book_staff w where w.school = p.school and w.book = n.book and w.person = p.id) as "bookRole",
            array(select a.id from assessment a where a.school = p.school and a.book = n.book and a.names_hidden) as hidden
          from unnest($1::text[], $2::text[]) with ordinality as n (sid, book, at)
            cross join lateral (select x.sess ->> 'school' as school, x.sess ->> 'person' as person, x.sess ->> 'token' as token
              from session x where x.sid = n.sid and x.expire >= now() offset 0) s
            cross join lateral (select * from person x
              where x.school = s.school and x.id = s.person and x.active offset 0) p`,
        values: [asked.map((a) => a.session), asked.map((a) => a.book)],
      } as pg.QueryConfig);
      const found = asked.map((): Identity | null => null);
      for (const { at, token, there, archived, bookRole, hidden, ...person } of rows)
        found[at - 1] = { person, token, bookThere: there, bookArchived: archived, role: bookRole, hidden };
      return found;
    });
  }

  async find(asked: AdmissionQuery): Promise<Identity | null> {
    const known = await this.loader.get(asked);
    const key = keyOf(asked);
    this.answers.delete(key);
    if (known) this.answers.set(key, known);
    if (this.answers.size > MAX_REMEMBERED) this.answers.delete(this.answers.keys().next().value!);
    return known;
  }

  /** What was the answer last time. It may be right no longer: nothing is done on it but what asks again ({@link grantsStillValid}). */
  cached(asked: AdmissionQuery): Identity | null {
    return this.answers.get(keyOf(asked)) ?? null;
  }
}

/** What somebody was let in on: it must still be so when something is written. */
export interface Grant {
  session: string;
  person: string;
  token: string;
  role: Person['role'];
  bookRole: BookRole;
}

/** Somebody who was let in on what was known of them lately: the writing asks whether it is still so, or `ask` does. */
export interface CachedAdmission {
  grant: Grant;
  /** Asks now; refuses where they would not be let in any more. */
  recheck(): Promise<void>;
}

/**
 * A condition that holds while all of these would be let in again to the book `$2` of the school `$1`, in which no names
 * are hidden, with its values from `first` on. It looks rows up one by one by their keys, as the question at the door does.
 */
export function grantsStillValid(grants: Grant[], first: number): { sql: string; values: unknown[] } {
  const p = (i: number): string => listValue(first + i, 'text');
  return {
    sql: `(select count(*) from unnest(${p(0)}, ${p(1)}, ${p(2)}, ${p(3)}, ${p(4)})
        as n (sid, person, token, role, book_role)
      cross join lateral (select 1 from session x where x.sid = n.sid and x.expire >= now() and x.sess ->> 'school' = $1
        and x.sess ->> 'person' = n.person and x.sess ->> 'token' = n.token offset 0) s
      cross join lateral (select 1 from person x where x.school = $1 and x.id = n.person and x.active
        and x.role = n.role offset 0) w
      cross join lateral (select 1 from book_staff x where x.school = $1 and x.book = $2 and x.person = n.person
        and x.role = n.book_role offset 0) r) = cardinality(${p(0)})
      and (cardinality(${p(0)}) = 0 or not exists (select 1 from assessment x
        where x.school = $1 and x.book = $2 and x.names_hidden))`,
    values: [
      grants.map((l) => l.session),
      grants.map((l) => l.person),
      grants.map((l) => l.token),
      grants.map((l) => l.role),
      grants.map((l) => l.bookRole),
    ],
  };
}

/** Forgets wrong guesses that count no more. */
export async function deleteOldGuesses(db: Db): Promise<void> {
  await db.query(`delete from sign_in_failure where expire < extract(epoch from now()) * 1000`);
}
