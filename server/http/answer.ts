import type { IncomingMessage } from 'node:http';
import type pg from 'pg';
import type { Logger } from 'pino';
import { CODES, type Code, type Problem } from '@contract/wire/problem';
import type { Config } from '../kernel/config';
import { isDatabaseGone } from '../kernel/database';
import { Refusal } from '../kernel/refusal';
import { NO_NAMES_HIDDEN, type HiddenNames, type Names } from '../modules/hidden-names';
import type { Admission, CachedAdmission } from '../modules/accounts';
import { admit, admitFromCache, type Admitted } from './admit';
import { bookOf, passNamesGate } from './names-gate';
import type { Context, Call, Route } from './route';
import { requireStorable } from './unstorable-text';
import { requireCsrfToken } from './sessions';
import { validationErrors } from './validate';

/** What every door needs, however a request came in. */
export interface ServerDeps {
  pool: pg.Pool;
  admission: Admission;
  hiddenNames: HiddenNames;
  config: Config;
  log: Logger;
}

/**
 * Lets a request in, or refuses it: who asks, whether it is their own page's, and only then what was sent, whether it is
 * sound. `read`: the body, which is not looked at before.
 */
export async function admitCall(
  deps: ServerDeps,
  route: Route,
  request: IncomingMessage,
  params: Record<string, string>,
  read: () => unknown,
): Promise<Call<never>> {
  const { admission, config } = deps;
  requireNames(params);
  const { book, assessment } = bookOf(route, params);
  const asked = 'book' in params ? { ...params, book } : params;
  const who = await admit(admission, config.sessionSecret, route.permission, request, asked);
  requireOwnPage(route, request, who);
  const at = { school: who.person?.school ?? '', hidden: who.hidden, params: asked };
  const { names, params: meant } = await passNamesGate(deps.hiddenNames, route, at, assessment);
  const body = await read();
  return toCall(deps, route, request, meant, names.veil ? names.veil.fromAliases(body) : body, who, null, names);
}

/** A name in an address that nothing can have is nowhere. */
function requireNames(params: Record<string, string>): void {
  const wrong = Object.values(params).some((name) => name.length > 200 || /[\0-\x1f\x7f]|\p{Cs}/u.test(name));
  if (wrong) throw new Refusal('not-found', 'There is nothing at this address.');
}

function requireOwnPage(route: Route, request: IncomingMessage, { token }: Admitted): void {
  if (route.method !== 'get' && route.method !== 'head')
    requireCsrfToken(request, route.permission === 'anyone' ? null : token);
}

/** The same from what is remembered of who asks; null where that would not let them in, or does not know them. */
export function admitCallFromCache(
  deps: ServerDeps,
  route: Route,
  request: IncomingMessage,
  params: Record<string, string>,
  body: unknown,
): Call<never> | null {
  try {
    const cached = admitFromCache(deps.admission, deps.config.sessionSecret, route.permission, request, params);
    if (!cached) return null;
    requireOwnPage(route, request, cached.admitted);
    return toCall(deps, route, request, params, body, cached.admitted, cached);
  } catch (error) {
    // A refusal is said on what is so now, not on what was.
    if (error instanceof Refusal) return null;
    throw error;
  }
}

function toCall(
  { pool, config }: ServerDeps,
  route: Route,
  request: IncomingMessage,
  params: Record<string, string>,
  body: unknown,
  { person, role }: Admitted,
  cachedAdmission: CachedAdmission | null,
  names: Names = NO_NAMES_HIDDEN,
): Call<never> {
  requireStorable(request, body);
  if (route.body) requireValidBody(route, body);
  return {
    pool,
    config,
    person,
    role,
    names,
    school: person?.school ?? '',
    route,
    params,
    body,
    cachedAdmission,
  } as unknown as Call<never>;
}

/** Does something for somebody who looks through a veil, or not: what is refused through one names nobody. */
export async function throughVeil<T>(
  { hiddenNames }: ServerDeps,
  { names, school, params }: Call<never>,
  run: () => Promise<T>,
): Promise<T> {
  if (!names.veil) return run();
  try {
    return await run();
  } catch (error) {
    throw await hiddenNames.veiled(error, school, params['book']!, names.veil);
  }
}

/** What a route answers. Under test it is compared with its schema. */
export async function answerOf(deps: ServerDeps, route: Route, context: Call<never>): Promise<unknown> {
  const { config } = deps;
  const told = await throughVeil(deps, context, () => route.handler(context as Context<never>));
  // What is about no student has none of them in it, whatever somebody wrote there.
  const { veil } = context.names;
  const answer = veil && route.names !== 'free' ? veil.toAliases(told) : told;
  if (config.checkAnswers && typeof route.answer !== 'string') {
    const errors = validationErrors(route.answer, answer);
    if (errors.length > 0)
      throw new Error(
        `the answer of ${route.method} ${route.path} is not what its schema says: ${JSON.stringify(errors)}`,
      );
  }
  return answer;
}

function requireValidBody(route: Route, body: unknown): void {
  const errors = validationErrors(route.body!, body);
  if (errors.length === 0) return;
  const first = errors[0]!;
  throw new Refusal(
    'bad-request',
    `What was sent cannot be used (${first.pointer || 'as a whole'}: ${first.detail}). Nothing was changed.`,
    { errors },
  );
}

export const PROBLEM_TYPE = 'application/problem+json; charset=utf-8';

/** What is said of a failure. What is not a refusal is logged, and the person is told what is safe. */
export function problemOf(log: Logger, error: unknown, path: string): Problem {
  const refusal = asRefusal(error);
  if (refusal.code === 'broken' || refusal.code === 'unavailable') log.error({ err: error, path }, 'a request failed');
  const problem: Problem = {
    type: `urn:last-tally:problem:${refusal.code}`,
    title: titleOf(refusal.code),
    status: CODES[refusal.code],
    code: refusal.code,
    detail: refusal.detail,
  };
  if (refusal.more.errors) problem.errors = refusal.more.errors;
  if (refusal.more.now !== undefined) problem.now = refusal.more.now;
  return problem;
}

const titleOf = (code: Code): string => code.replaceAll('-', ' ').replace(/^./, (c) => c.toUpperCase());

const NO_DATABASE = 'The database does not answer just now. What you typed is kept on your machine and is tried again.';

export const unreadableBody = (): Refusal =>
  new Refusal('bad-request', 'What was sent could not be read. Nothing was changed.');

function asRefusal(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  const e = error as { type?: string; status?: number; code?: string };
  if (e.type === 'entity.too.large')
    return new Refusal('too-large', 'This is more than can be sent at once. Nothing was changed.');
  if (e.type === 'entity.parse.failed' || e.status === 400) return unreadableBody();
  // Of the database: a number too large, a day that is none.
  if (e.code?.startsWith('22'))
    return new Refusal('bad-request', 'Something in what was sent is too large to be kept. Nothing was changed.');
  // A statement or a lock that took too long, or a database that is not there.
  if (e.code === '57014' || e.code === '55P03' || isDatabaseGone(error)) return new Refusal('unavailable', NO_DATABASE);
  return new Refusal(
    'broken',
    'Something went wrong on the server. Nothing was changed; try again, and tell the office if it stays.',
  );
}
