import type pg from 'pg';

/** Sets the clock of the made-up school, which runs on from there; that of a real one cannot be set. */
export async function setDemoClock(client: pg.Client, moment: string): Promise<void> {
  await client.query(
    'update school set fixed_now = null, clock_offset = $1::timestamptz - clock_timestamp() where demo',
    [moment],
  );
}

/** Lets the notes of the made-up school be as old as they must be to come to rest. */
export async function ageNotes(client: pg.Client): Promise<void> {
  await client.query(
    `update end_note n set changed_at = changed_at - interval '1 minute' from school s where s.id = n.school and s.demo`,
  );
}

/** How many of them have no line in the journal yet. */
export async function restlessNotes(client: pg.Client): Promise<number> {
  const { rows } = await client.query<{ n: number }>(
    `select count(*)::int as n from end_note n join school s on s.id = n.school where s.demo and n.rested < n.version`,
  );
  return rows[0]!.n;
}
