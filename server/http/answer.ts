import type { IncomingMessage } from 'node:http';
import type pg from 'pg';
import type { Logger } from 'pino';
import { CODES, type Code, type Problem } from '@contract/problem';
import type { Config } from '../config';
import { Refusal } from '../kernel/refusal';
import type { Admission, Lately } from '../modules/accounts';
import { admit, admitLately, type Admitted } from './admit';
import type { Context, Plain, Route } from './route';
import { requireKeepable } from './unstorable-text';
import { requireGenuine } from './sessions';
import { faultsOf } from './validate';

/** What every door needs, however a request came in. */
export interface House {
  pool: pg.Pool;
  admission: Admission;
  config: Config;
  log: Logger;
}

/** Lets a request in, or refuses it: who asks, whether it is their own page's, whether what was sent is sound. */
export async function admitted(
  house: House,
  route: Route,
  request: IncomingMessage,
  params: Record<string, string>,
  body: unknown,
): Promise<Plain<never>> {
  const { admission, config } = house;
  const who = await admit(admission, config.sessionSecret, route.permission, request, params);
  return plain(house, route, request, params, body, who, null);
}

/** The same from what is remembered of who asks; null where that would not let them in, or does not know them. */
export function admittedLately(
  house: House,
  route: Route,
  request: IncomingMessage,
  params: Record<string, string>,
  body: unknown,
): Plain<never> | null {
  try {
    const lately = admitLately(house.admission, house.config.sessionSecret, route.permission, request, params);
    return lately && plain(house, route, request, params, body, lately.admitted, lately);
  } catch (error) {
    // A refusal is said on what is so now, not on what was.
    if (error instanceof Refusal) return null;
    throw error;
  }
}

function plain(
  { pool, config }: House,
  route: Route,
  request: IncomingMessage,
  params: Record<string, string>,
  body: unknown,
  { person, role, token }: Admitted,
  lately: Lately | null,
): Plain<never> {
  if (route.method !== 'get') requireGenuine(request, route.permission === 'anyone' ? null : token);
  requireKeepable(request, body);
  if (route.body) requireSound(route, body);
  return { pool, config, person, role, school: person?.school ?? '', params, body, lately } as Plain<never>;
}

/** What a route answers. Under test it is compared with its schema. */
export async function answerOf({ config }: House, route: Route, context: Plain<never>): Promise<unknown> {
  const answer = await route.does(context as Context<never>);
  if (config.checkAnswers && route.answer !== 'text/csv') {
    const faults = faultsOf(route.answer, answer);
    if (faults.length > 0)
      throw new Error(
        `the answer of ${route.method} ${route.path} is not what its schema says: ${JSON.stringify(faults)}`,
      );
  }
  return answer;
}

function requireSound(route: Route, body: unknown): void {
  const faults = faultsOf(route.body!, body);
  if (faults.length === 0) return;
  const first = faults[0]!;
  throw new Refusal(
    'bad-request',
    `What was sent cannot be used (${first.at || 'as a whole'}: ${first.says}). Nothing was changed.`,
    { faults },
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
    says: refusal.says,
  };
  if (refusal.more.faults) problem.faults = refusal.more.faults;
  if (refusal.more.now !== undefined) problem.now = refusal.more.now;
  return problem;
}

const titleOf = (code: Code): string => code.replaceAll('-', ' ').replace(/^./, (c) => c.toUpperCase());

const NO_DATABASE = 'The database does not answer just now. What you typed is kept on your machine and is tried again.';

export const unreadable = (): Refusal =>
  new Refusal('bad-request', 'What was sent could not be read. Nothing was changed.');

function asRefusal(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  const e = error as { type?: string; status?: number; code?: string };
  if (e.type === 'entity.too.large')
    return new Refusal('too-large', 'This is more than can be sent at once. Nothing was changed.');
  if (e.type === 'entity.parse.failed' || e.status === 400) return unreadable();
  if (e.code === 'ECONNREFUSED' || e.code === '57P01' || e.code === '57P03' || e.code?.startsWith('08'))
    return new Refusal('unavailable', NO_DATABASE);
  if (e instanceof Error && /timeout exceeded when trying to connect|Connection terminated/i.test(e.message))
    return new Refusal('unavailable', NO_DATABASE);
  return new Refusal(
    'broken',
    'Something went wrong on the server. Nothing was changed; try again, and tell the office if it stays.',
  );
}
