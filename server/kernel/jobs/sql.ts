import type { JobName } from '@contract/jobs';
import type { Db } from '../database';

/** The channel on which workers hear that there is something to do, by its kind. */
export const JOB_CHANNEL = 'job';

export async function queuesOf(db: Db): Promise<string[]> {
  const { rows } = await db.query<{ name: string }>('select name from jobs.queue');
  return rows.map((r) => r.name);
}

/** Of these kinds those that have something to do now. */
export async function kindsWithDueJobs(db: Db, names: readonly string[]): Promise<string[]> {
  const { rows } = await db.query<{ name: string }>(
    `select name from unnest($1::text[]) name where exists (select 1 from jobs.job j
       where j.name = name.name and j.state < 'active' and j.start_after <= now())`,
    [names],
  );
  return rows.map((r) => r.name);
}

export async function notifyWorkers(db: Db, name: JobName): Promise<void> {
  await db.query('select pg_notify($1, $2)', [JOB_CHANNEL, name]);
}

/** Keys of a kind for which something is under way, waits for its next try, or failed for good within the hour. */
export async function openKeys(db: Db, name: JobName): Promise<Set<string>> {
  const { rows } = await db.query<{ key: string }>(
    `select singleton_key as key from jobs.job where name = $1 and state < 'completed'
     union all
     select data->>'key' from jobs.job where name = 'failed' and data->>'kind' = $1
       and created_on > now() - interval '1 hour'`,
    [name],
  );
  return new Set(rows.map((r) => r.key));
}

/** The lock under which a job is done: one server at a time for each kind and key. It goes with its connection. */
const lockOf = (name: string, key: string): string => `hashtextextended('job ' || ${name} || ' ' || ${key}, 0)`;

export async function takeLock(db: Db, name: JobName, key: string): Promise<boolean> {
  const { rows } = await db.query<{ mine: boolean }>(`select pg_try_advisory_lock(${lockOf('$1', '$2')}) as mine`, [
    name,
    key,
  ]);
  return rows[0]!.mine;
}

export async function releaseLock(db: Db, name: JobName, key: string): Promise<void> {
  await db.query(`select pg_advisory_unlock(${lockOf('$1', '$2')})`, [name, key]);
}

/** Jobs that somebody began and nobody does: their server is gone, and with it the lock. */
export async function lostJobs(db: Db, name: JobName): Promise<string[]> {
  const { rows } = await db.query<{ id: string }>(
    `with begun as materialized (select id, name, singleton_key from jobs.job
       where name = $1 and state = 'active' and started_on < now() - interval '5 seconds')
     select id from begun where pg_try_advisory_xact_lock(${lockOf('name', 'singleton_key')})`,
    [name],
  );
  return rows.map((r) => r.id);
}

/** A job that failed for good. `stored`: what it was put in with. */
export interface FailedJobRow {
  id: string;
  stored: { kind: JobName; key: string; school: string; book?: string };
  message: string;
  tries: number;
  failedAt: string;
}

/** Of a school, and of all schools together: the last of each kind and key. */
export async function failedJobsOf(db: Db, school: string): Promise<FailedJobRow[]> {
  const { rows } = await db.query<FailedJobRow>(
    `select * from (select distinct on (data->>'kind', data->>'key') id, data as stored, coalesce(output->>'message', '') as message, retry_limit + 1 as tries,
       created_on + (school_now($1) - clock_timestamp()) as "failedAt"
     from jobs.job where name = 'failed' and state = 'created' and data->>'school' in ($1, '')
     order by data->>'kind', data->>'key', created_on desc) x order by "failedAt" desc`,
    [school],
  );
  return rows;
}

/** Takes all that failed for good of a kind and key off the list: it was done, is tried again, or nobody wants it. */
export async function deleteFailures(db: Db, kind: JobName, key: string): Promise<void> {
  await db.query(`delete from jobs.job where name = 'failed' and data->>'kind' = $1 and data->>'key' = $2`, [
    kind,
    key,
  ]);
}
