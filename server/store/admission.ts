import type pg from 'pg';
import type { BookRole } from './books';
import { Gather } from './gather';
import type { Person } from './people';

/** Under which session somebody asks, and of which book ('' of none). */
export interface Asked {
  session: string;
  book: string;
}

/** Who asks, where the session stands and the person is active; the session's token; what they are in the book. */
export interface Known {
  person: Person;
  token: string;
  bookThere: boolean;
  /** The book is put away: it is read and not changed. */
  bookArchived: boolean;
  role: BookRole | null;
}

interface Row extends Person {
  token: string;
  there: boolean;
  archived: boolean;
  bookRole: BookRole | null;
  at: number;
}

/** Looks up who somebody is and what they are in a book: one question to the database for all who ask at once. */
export class Admission {
  private readonly gather: Gather<Asked, Known | null>;

  constructor(pool: pg.Pool) {
    this.gather = new Gather<Asked, Known | null>(async (asked) => {
      const { rows } = await pool.query<Row>({
        name: 'admission',
        text: `select p.school, p.id, p.login, p.family, p.given, p.role, s.token, n.at::int,
            exists (select 1 from book b where b.school = p.school and b.id = n.book) as there,
            exists (select 1 from book b where b.school = p.school and b.id = n.book and b.archived_at is not null) as archived,
            (select w.role from book_staff w where w.school = p.school and w.book = n.book and w.person = p.id) as "bookRole"
          from unnest($1::text[], $2::text[]) with ordinality as n (sid, book, at)
            cross join lateral (select x.sess ->> 'school' as school, x.sess ->> 'person' as person, x.sess ->> 'token' as token
              from session x where x.sid = n.sid and x.expire >= now() offset 0) s
            cross join lateral (select * from person x
              where x.school = s.school and x.id = s.person and x.active offset 0) p`,
        values: [asked.map((a) => a.session), asked.map((a) => a.book)],
      });
      const found = asked.map((): Known | null => null);
      for (const { at, token, there, archived, bookRole, ...person } of rows)
        found[at - 1] = { person, token, bookThere: there, bookArchived: archived, role: bookRole };
      return found;
    });
  }

  look(asked: Asked): Promise<Known | null> {
    return this.gather.get(asked);
  }
}
