import type pg from 'pg';
import { transaction } from '../../kernel/database';
import { findSchool, personName } from '../accounts';
import { Refusal } from '../../kernel/refusal';
import { hashOfSecret, mailPasswordLinks, makePasswordLink } from './password-links';
import { inviteesOf, invitationStands, takeInvitation } from './sql';
import type { Invitations } from '@contract/accounts';

/** Days that an invitation can be taken up in. */
const INVITED_DAYS = 14;

const inDays = (from: number): Date => new Date(from + INVITED_DAYS * 86_400_000);

/**
 * Links with which people give themselves a password. A teacher invites students of the book who have none; only the
 * office gives a new one to somebody who has. `mail`: they go by mail too, to whoever has an address.
 */
export function invite(
  pool: pg.Pool,
  by: { school: string; person: string },
  logins: string[],
  book: string | null,
  mail: boolean,
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
    const expires = inDays(Date.now());
    // Whether it still stands is a matter of the machine's clock; what people read is said by the school's.
    const until = inDays(Date.parse((await findSchool(db, by.school))!.now)).toISOString();
    const invitations: Invitations['invitations'] = [];
    const mails: Parameters<typeof mailPasswordLinks>[2][number][] = [];
    for (const f of found) {
      const { person, login } = f;
      const path = await makePasswordLink(db, { school: by.school, person, by: by.person, expires });
      const mailed = mail && f.mail !== '';
      if (mailed) mails.push({ person, login, path, expires, forgotten: false });
      invitations.push({ login, name: personName(f), path, until, mailed });
    }
    await mailPasswordLinks(db, by.school, mails);
    return { invitations };
  });
}

/** Takes up an invitation; gives the sign-in name. */
export async function welcome(pool: pg.Pool, secret: string, hash: () => Promise<string>): Promise<string> {
  // A password is hashed, which takes its time, only for a link that stands.
  const stands = await invitationStands(pool, hashOfSecret(secret));
  const passwordHash = stands ? await hash() : '';
  const login = stands ? await transaction(pool, (db) => takeInvitation(db, hashOfSecret(secret), passwordHash)) : null;
  if (login === null)
    throw new Refusal(
      'not-found',
      'This invitation was used already, or its days are over. Ask whoever sent it for a new one.',
    );
  return login;
}
