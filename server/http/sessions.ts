import { randomBytes, timingSafeEqual } from 'node:crypto';
import connectPgSimple from 'connect-pg-simple';
import { unsign } from 'cookie-signature';
import type { IncomingMessage } from 'node:http';
import type { Request, RequestHandler } from 'express';
import session from 'express-session';
import type pg from 'pg';
import type { Config } from '../kernel/config';
import { Refusal } from '../kernel/refusal';

declare module 'express-session' {
  interface SessionData {
    school: string;
    person: string;
    token: string;
  }
}

const HOURS_12 = 12 * 3_600_000;

const COOKIE = 'last-tally';

/**
 * Server-side sessions in PostgreSQL; the cookie holds a signed id and nothing else. The package makes and ends them;
 * whose a request is, is asked by the door itself, with all else that it asks.
 */
export function sessions(pool: pg.Pool, config: Config): RequestHandler {
  const Store = connectPgSimple(session);
  return session({
    name: COOKIE,
    secret: config.sessionSecret,
    resave: false,
    saveUninitialized: false,
    rolling: false,
    store: new Store({ pool, tableName: 'session', disableTouch: true, pruneSessionInterval: 3_600 }),
    cookie: { httpOnly: true, sameSite: 'strict', secure: config.secureCookies, maxAge: HOURS_12, path: '/' },
  });
}

/** The id of the session that a request's cookie names, where our own signature stands on it. */
export function sessionIdOf(request: IncomingMessage, secret: string): string | null {
  for (const part of (request.headers.cookie ?? '').split(';')) {
    const [name, value] = part.trim().split('=');
    if (name !== COOKIE || value === undefined) continue;
    // "s:" and the id, a point, the signature: what the package writes.
    const signed = /^s(?::|%3A)(.+)$/i.exec(value)?.[1];
    const id = signed === undefined ? null : idSigned(signed, secret);
    if (id !== null) return id;
  }
  return null;
}

/** Ids whose signature was found right, by what was signed and with what: checking is for each cookie once. */
const signedIds = new Map<string, string>();
const SIGNED_IDS = 5_000;

function idSigned(signed: string, secret: string): string | null {
  const key = `${secret} ${signed}`;
  const known = signedIds.get(key);
  if (known !== undefined) return known;
  const id = unsign(safeDecode(signed), secret);
  if (id === false) return null;
  if (signedIds.size >= SIGNED_IDS) signedIds.delete(signedIds.keys().next().value!);
  signedIds.set(key, id);
  return id;
}

function safeDecode(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return '';
  }
}

/** A new session id at sign-in, so that one set from outside is worth nothing. */
export function beginSession(request: Request, who: { school: string; person: string }): Promise<string> {
  return new Promise((done, failed) =>
    request.session.regenerate((error) => {
      if (error) return failed(error as Error);
      Object.assign(request.session, who, { token: randomBytes(24).toString('base64url') });
      request.session.save((problem) => (problem ? failed(problem as Error) : done(request.session.token!)));
    }),
  );
}

export function endSession(request: Request): Promise<void> {
  return new Promise((done, failed) => request.session.destroy((error) => (error ? failed(error as Error) : done())));
}

export const TOKEN_HEADER = 'x-last-tally-token';

/**
 * A change must not come from another site's page and must carry the session's own token. Signing in and the first
 * set-up have no session yet: `token` is null for them.
 */
export function requireCsrfToken(request: IncomingMessage, token: string | null): void {
  const site = request.headers['sec-fetch-site'];
  const foreign = site !== undefined && site !== 'same-origin' && site !== 'none';
  if (foreign || (token !== null && !carriesToken(request, token)))
    throw new Refusal(
      'not-genuine',
      'This change did not come from your own page, so it was not made. Load the page again and try once more.',
    );
}

function carriesToken(request: IncomingMessage, token: string): boolean {
  const expected = Buffer.from(token);
  const given = Buffer.from(String(request.headers[TOKEN_HEADER] ?? ''));
  return expected.length > 0 && given.length === expected.length && timingSafeEqual(given, expected);
}
