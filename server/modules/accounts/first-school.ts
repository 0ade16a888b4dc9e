import { createHash } from 'node:crypto';
import type pg from 'pg';
import { isTimeZone } from '@core/time/local-days';
import type { Setup } from '@contract/accounts';
import { transaction, type Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { hashPassword } from './password';
import {
  anySchool,
  deleteSetupCodes,
  insertPeople,
  insertSchool,
  insertSetupCode,
  isSetupCode,
  lockSchools,
} from './sql/persons';

/** A code is long and random, so that a plain hash of it cannot be turned back. Read without regard to case and strokes. */
const hashOf = (code: string): string =>
  createHash('sha256')
    .update(code.toLowerCase().replace(/[^a-z0-9]/g, ''))
    .digest('hex');

/** Lets the first school be made with this code, on every server of the database; does nothing where there is one. */
export async function offerSetup(db: Db, code: string): Promise<void> {
  if (code !== '' && !(await anySchool(db))) await insertSetupCode(db, hashOf(code));
}

/** How a term is made, which is not this module's own. */
export type MakeTerm = (db: Db, school: string, term: NonNullable<Setup['term']>) => Promise<void>;

/** Makes the first school with its first administrator and term, all or nothing, once. `clock`: where a demo's stands. */
export async function makeFirstSchool(
  pool: pg.Pool,
  clock: string | null,
  body: Setup,
  makeTerm: MakeTerm,
): Promise<void> {
  if (await anySchool(pool)) throw new Refusal('already-there', 'This server has a school already.');
  if (!(await isSetupCode(pool, hashOf(body.code))))
    throw new Refusal(
      'not-allowed',
      'This is not the code that the start command printed. Nothing was made; look at the terminal and try once more.',
    );
  if (!isTimeZone(body.school.timeZone))
    throw new Refusal('bad-request', `“${body.school.timeZone}” is no time zone. Nothing was made.`);
  const passwordHash = await hashPassword(body.administrator.password);
  await transaction(pool, async (db) => {
    await lockSchools(db);
    if (await anySchool(db)) throw new Refusal('already-there', 'This server has a school already.');
    await insertSchool(db, { ...body.school, clock });
    const { login, family, given } = body.administrator;
    await insertPeople(db, body.school.id, [
      { login, family, given, number: '', mail: '', role: 'administrator', passwordHash },
    ]);
    if (body.term) await makeTerm(db, body.school.id, body.term);
    await deleteSetupCodes(db);
  });
}
