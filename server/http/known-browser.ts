import { createHmac, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { Response } from 'express';

const COOKIE = 'last-tally-known';
const DAYS_400 = 400 * 86_400_000;
/** People of one browser that are remembered. */
const MOST = 6;

const sign = (secret: string, words: string): string =>
  createHmac('sha256', secret).update(words).digest('base64url').slice(0, 32);

const same = (a: string, b: string): boolean =>
  a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b));

function marksIn(request: IncomingMessage): string[] {
  for (const part of (request.headers.cookie ?? '').split(';')) {
    const [name, value = ''] = part.trim().split('=');
    if (name === COOKIE)
      return value
        .split('~')
        .filter((m) => /^[\w-]{32}$/.test(m))
        .slice(0, MOST);
  }
  return [];
}

const markOf = (secret: string, person: { school: string; id: string }): string =>
  sign(secret, `known ${person.school} ${person.id}`);

/** This person has signed in with this browser before. */
export const knowsPerson = (
  request: IncomingMessage,
  secret: string,
  person: { school: string; id: string },
): boolean => marksIn(request).some((m) => same(m, markOf(secret, person)));

/** Remembers it: a signature of ours, which says nothing to anybody else. */
export function rememberPerson(
  request: IncomingMessage,
  response: Response,
  { sessionSecret, secureCookies }: { sessionSecret: string; secureCookies: boolean },
  person: { school: string; id: string },
): void {
  const mark = markOf(sessionSecret, person);
  const marks = [mark, ...marksIn(request).filter((m) => m !== mark)].slice(0, MOST);
  response.cookie(COOKIE, marks.join('~'), {
    httpOnly: true,
    sameSite: 'strict',
    secure: secureCookies,
    maxAge: DAYS_400,
    path: '/',
    encode: (text) => text,
  });
}

/** Milliseconds within which a challenge is answered. */
const ANSWERED_WITHIN = 600_000;

/** What has to be worked for before a try is looked at: ours, for this account, for a while. */
export function makeChallenge(secret: string, account: string, bits: number, now: number): string {
  const words = `${now + ANSWERED_WITHIN}.${bits}`;
  return `${words}.${sign(secret, `challenge ${account} ${words}`)}`;
}

/** The bits that a challenge of ours asks for; 0 where it is none, another account's, or too old. */
export function bitsOf(secret: string, account: string, challenge: string, now: number): number {
  const [until, bits, signature] = challenge.split('.');
  const words = `${until}.${bits}`;
  const ours = signature !== undefined && same(signature, sign(secret, `challenge ${account} ${words}`));
  return ours && Number(until) >= now ? Number(bits) : 0;
}
