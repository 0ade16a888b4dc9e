import type pg from 'pg';

/** The rollout of a school that has had one. */
export async function idOfRollout(pool: pg.Pool): Promise<string> {
  const { rows } = await pool.query<{ id: string }>('select id from policy_rollout');
  return rows[0]!.id;
}

/** Puts another text in the place of a book's rules on the disk, as a damaged disk may; `journal`: there too. */
export async function damageRules(pool: pg.Pool, book: string, text: string, journal?: 'journal'): Promise<void> {
  await pool.query('update rules_version set rules = $2 where book = $1', [book, text]);
  if (journal) {
    await pool.query('alter table journal disable trigger user');
    await pool.query(`update journal set becomes = '{' where book = $1 and kind in ('rules', 'book')`, [book]);
    await pool.query('alter table journal enable trigger user');
  }
  // Another stamp of the book's row, as every change has.
  await pool.query('update book set title = title where id = $1', [book]);
}
