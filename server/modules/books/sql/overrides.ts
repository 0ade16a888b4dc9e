import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Override } from '@core/book/document';
import { numberOrNull, type Db } from '../../../kernel/database';

/** A final grade set by a person. Version 0: never one; both null: ended. */
export interface OverrideRow {
  enrolment: string;
  version: number;
  percent: number | null;
  letter: string | null;
}

export async function overridesOf(db: Db, school: string, book: string): Promise<OverrideRow[]> {
  const { rows } = await db.query<Omit<OverrideRow, 'percent'> & { percent: string | null }>(
    'select enrolment, version, percent, letter from override where school = $1 and book = $2 order by enrolment',
    [school, book],
  );
  return rows.map((r) => ({ ...r, percent: numberOrNull(r.percent) }));
}

export async function writeOverride(db: BookTransaction, school: string, book: string, o: OverrideRow): Promise<void> {
  await db.query(
    `insert into override (school, book, enrolment, version, percent, letter) values ($1, $2, $3, $4, $5, $6)
     on conflict (school, book, enrolment) do update set version = excluded.version, percent = excluded.percent,
       letter = excluded.letter`,
    [school, book, o.enrolment, o.version, o.percent, o.letter],
  );
}

/** As the book document has them; those that were ended are none. */
export const toDocumentOverrides = (
  rows: readonly Pick<OverrideRow, 'enrolment' | 'percent' | 'letter'>[],
): Override[] =>
  rows.flatMap((o) =>
    o.percent === null && o.letter === null
      ? []
      : [
          {
            student: o.enrolment,
            ...(o.percent === null ? {} : { percent: o.percent }),
            ...(o.letter === null ? {} : { letter: o.letter }),
          },
        ],
  );
