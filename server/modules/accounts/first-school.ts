import type pg from 'pg';
import { isTimeZone } from '@core/time/local-days';
import type { Setup } from '@contract/accounts';
import { transaction } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { hashPassword } from './password';
import { anySchool, insertPeople, insertSchool, lockSchools } from './sql/persons';

/** Makes the first school with its first administrator, once; refuses without the set-up's token. */
export async function makeFirstSchool(pool: pg.Pool, token: string, body: Setup): Promise<void> {
  if (token === '' || body.token !== token)
    throw new Refusal('not-allowed', 'The first set-up needs the token that the start command gives.');
  if (!isTimeZone(body.school.timeZone))
    throw new Refusal('bad-request', `“${body.school.timeZone}” is no time zone. Nothing was made.`);
  const passwordHash = await hashPassword(body.administrator.password);
  await transaction(pool, async (db) => {
    await lockSchools(db);
    if (await anySchool(db)) throw new Refusal('already-there', 'This server has a school already.');
    await insertSchool(db, body.school);
    const { login, family, given } = body.administrator;
    await insertPeople(db, body.school.id, [
      { login, family, given, number: '', mail: '', role: 'administrator', passwordHash },
    ]);
  });
}
