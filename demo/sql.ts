import type pg from 'pg';

/** Sets the clock of the made-up school, which runs on from there; that of a real one cannot be set. */
export async function setDemoClock(client: pg.Client, moment: string): Promise<void> {
  await client.query(
    'update school set fixed_now = null, clock_offset = $1::timestamptz - clock_timestamp() where demo',
    [moment],
  );
}
