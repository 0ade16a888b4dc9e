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

/** How often the connection that comes next planned a named statement anew, and how often it went by the plan that it has. */
export async function plansOf(pool: pg.Pool, name: string): Promise<{ custom: number; generic: number }> {
  const { rows } = await pool.query<{ custom: number; generic: number }>(
    `select custom_plans::int as custom, generic_plans::int as generic from pg_prepared_statements where name = $1`,
    [name],
  );
  return rows[0] ?? { custom: 0, generic: 0 };
}
