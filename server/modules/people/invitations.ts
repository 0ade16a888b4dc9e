import { createHash, randomBytes } from 'node:crypto';
import type pg from 'pg';
import { transaction } from '../../kernel/database';
import { personName } from '../accounts';
import { Refusal } from '../../kernel/refusal';
import { inviteesOf, putInvitation, invitationStands, takeInvitation } from './sql';
import type { Invitations } from '@contract/accounts';

/** Days that an invitation can be taken up in. */
const INVITED_DAYS = 14;

const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');

/**
 * Links with which people give themselves a password. A teacher invites students of the book who have none; only the
 * office gives a new one to somebody who has.
 */
export function invite(
  pool: pg.Pool,
  by: { school: string; person: string },
  logins: string[],
  book: string | null,
): Promise<Invitations> {
  return transaction(pool, async (db) => {
    const found = await inviteesOf(db, by.school, logins, book);
    const missing = logins.filter((l) => !found.some((f) => f.login === l));
    if (missing.length > 0) throw new Refusal('not-found', `“${missing[0]}” is nobody here. Nobody was invited.`);
    const ready = book === null ? [] : found.filter((f) => f.account === 'ready' || f.role !== 'student');
    if (ready.length > 0)
      throw new Refusal(
        'not-allowed',
        `${personName({ ...ready[0]!, role: 'student' })} has a password already; only the office gives a new one. Nobody was invited.`,
      );
    const until = new Date(Date.now() + INVITED_DAYS * 86_400_000).toISOString();
    const invitations: Invitations['invitations'] = [];
    for (const f of found) {
      const secret = randomBytes(24).toString('base64url');
      await putInvitation(db, {
        hash: hashOf(secret),
        school: by.school,
        person: f.person,
        by: by.person,
        until,
      });
      invitations.push({ login: f.login, name: personName(f), path: `/welcome#${secret}`, until });
    }
    return { invitations };
  });
}

/** Takes up an invitation; gives the sign-in name. */
export async function welcome(pool: pg.Pool, secret: string, hash: () => Promise<string>): Promise<string> {
  // A password is hashed, which takes its time, only for a link that stands.
  const stands = await invitationStands(pool, hashOf(secret));
  const passwordHash = stands ? await hash() : '';
  const login = stands ? await transaction(pool, (db) => takeInvitation(db, hashOf(secret), passwordHash)) : null;
  if (login === null)
    throw new Refusal(
      'not-found',
      'This invitation was used already, or its days are over. Ask whoever sent it for a new one.',
    );
  return login;
}
