import type pg from 'pg';

/** The names of the migrations that a database has had, in their order. */
export async function migrationsRun(client: pg.Client): Promise<string[]> {
  const there = await client.query<{ exists: boolean }>(`select to_regclass('public.migration') is not null as exists`);
  if (!there.rows[0]?.exists) return [];
  const { rows } = await client.query<{ name: string }>('select name from migration order by id');
  return rows.map((r) => r.name);
}
