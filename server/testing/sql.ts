import type pg from 'pg';

/** The rollout of a school that has had one. */
export async function idOfRollout(pool: pg.Pool): Promise<string> {
  const { rows } = await pool.query<{ id: string }>('select id from policy_rollout');
  return rows[0]!.id;
}
