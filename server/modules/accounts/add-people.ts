import { formOf, listed } from '@core/words/count';
import type pg from 'pg';
import type { NewPeople } from '@contract/accounts';
import { transaction } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { hashPassword } from './password';
import { insertPeople } from './sql/persons';

/** Adds people to a school, all or none; gives how many. */
export async function addPeople(pool: pg.Pool, school: string, { people }: NewPeople): Promise<number> {
  const logins = new Set(people.map((p) => p.login));
  if (logins.size < people.length)
    throw new Refusal('bad-request', 'Two of these people have the same sign-in name. Nobody was added.');
  const hashes = await Promise.all(people.map((p) => (p.password === null ? null : hashPassword(p.password))));
  const rows = people.map(({ password: _p, ...p }, i) => ({ ...p, passwordHash: hashes[i]! }));
  const taken = await transaction(pool, (db) => insertPeople(db, school, rows));
  if (taken.length > 0)
    throw new Refusal(
      'already-there',
      `${listed(taken.slice(0, 5))} ${formOf(taken.length, 'is', 'are')} in use already. Nobody was added.`,
    );
  return rows.length;
}
