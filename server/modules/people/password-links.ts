import { createHash, randomBytes } from 'node:crypto';
import type pg from 'pg';
import { transaction, type Db } from '../../kernel/database';
import { putMails } from '../mail';
import { personSigningIn, putInvitation } from './sql';

export const hashOfSecret = (secret: string): string => createHash('sha256').update(secret).digest('hex');

/** Until when a link stands that somebody asked for; by the machine's clock. */
export const inAnHour = (): Date => new Date(Date.now() + 3_600_000);

/** Makes a link with which one person chooses a password, once; gives its path. Of it only a hash is kept. */
export async function makePasswordLink(
  db: Db,
  link: { school: string; person: string; by: string; expires: Date; forgotten?: boolean },
): Promise<string> {
  const secret = randomBytes(24).toString('base64url');
  await putInvitation(db, { forgotten: false, ...link, hash: hashOfSecret(secret), until: link.expires.toISOString() });
  return `/welcome#${secret}`;
}

/** Sends such links by mail; they are in no other words of the application. */
export async function mailPasswordLinks(
  db: Db,
  school: string,
  links: readonly { person: string; login: string; path: string; expires: Date; forgotten: boolean }[],
): Promise<void> {
  await putMails(
    db,
    school,
    links.map(({ person, login, path, expires, forgotten }) => ({
      ...{ person, path, kind: 'link' as const, voidAt: expires.toISOString() },
      subject: forgotten ? 'A new password' : 'Choose a password',
      body: [
        forgotten
          ? 'Somebody asked for a new password for you. If that was not you, leave this mail: your password stays as it is.'
          : 'You are in a gradebook of Last Tally.',
        `This link works once, ${forgotten ? 'for an hour' : 'for fourteen days'}; with it you choose a password. You sign in as ${login}.`,
      ].join('\n\n'),
    })),
  );
}

/** A link for a new password of whoever signs in so, to be handed over by somebody at the machine; null: nobody does. */
export function passwordLinkFor(pool: pg.Pool, login: string): Promise<string | null> {
  return transaction(pool, async (db) => {
    const found = await personSigningIn(db, login.trim().toLowerCase());
    const expires = inAnHour();
    return found && makePasswordLink(db, { ...found, by: found.person, expires });
  });
}
