import type { Express, Request, RequestHandler, Response } from 'express';
import type pg from 'pg';
import type { Logger } from 'pino';
import { CODES, type Code, type Problem } from '@contract/problem';
import type { Config } from '../config';
import { Refusal } from '../domain/problems';
import { Admission } from '../store/admission';
import { admit } from './admit';
import { PERMISSIONS, type Context, type FileAnswer, type Route } from './route';
import { requireGenuine } from './sessions';
import { faultsOf } from './validate';

export const API = '/api/v1';

/** Puts the routes up. One without a known permission does not start. */
export function mount(app: Express, routes: readonly Route[], pool: pg.Pool, config: Config): void {
  const admission = new Admission(pool);
  for (const route of routes) {
    if (!PERMISSIONS.includes(route.permission))
      throw new Error(`the route ${route.method} ${route.path} declares no permission`);
    app[route.method](API + route.path.replace(/\{(\w+)\}/g, ':$1'), handler(route, pool, admission, config));
  }
}

function handler(route: Route, pool: pg.Pool, admission: Admission, config: Config): RequestHandler {
  return async (request, response) => {
    const params = request.params as Record<string, string>;
    const { person, role, token } = await admit(admission, config.sessionSecret, route.permission, request, params);
    if (route.method !== 'get') requireGenuine(request, route.permission === 'anyone' ? null : token);
    if (route.body) requireSound(route, request.body);
    const context = {
      pool,
      config,
      person,
      role,
      school: person?.school ?? '',
      params,
      body: request.body as unknown,
      request,
      response,
    };
    if (route.streams) return route.streams(context as Context<never>);
    const answer = await route.does(context as Context<never>);
    if (route.answer === 'text/csv') return sendFile(response, answer as FileAnswer);
    if (config.checkAnswers) {
      const faults = faultsOf(route.answer, answer);
      if (faults.length > 0)
        throw new Error(
          `the answer of ${route.method} ${route.path} is not what its schema says: ${JSON.stringify(faults)}`,
        );
    }
    response
      .status(route.status ?? 200)
      .set('Cache-Control', 'no-store')
      .json(answer);
  };
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

function sendFile(response: Response, file: FileAnswer): void {
  response
    .status(200)
    .set('Cache-Control', 'no-store')
    .set('Content-Type', 'text/csv; charset=utf-8')
    .set('Content-Disposition', `attachment; filename="${file.name}"`)
    .send(file.text);
}

/** Turns every failure into problem+json; what is not a refusal is logged, and the person is told what is safe. */
export function problems(log: Logger) {
  return (error: unknown, request: Request, response: Response, next: (e?: unknown) => void): void => {
    if (response.headersSent) return next(error);
    const refusal = asRefusal(error);
    if (refusal.code === 'broken' || refusal.code === 'unavailable')
      log.error({ err: error, path: request.path }, 'a request failed');
    const status = CODES[refusal.code];
    const problem: Problem = {
      type: `urn:last-tally:problem:${refusal.code}`,
      title: titleOf(refusal.code),
      status,
      code: refusal.code,
      says: refusal.says,
    };
    if (refusal.more.faults) problem.faults = refusal.more.faults;
    if (refusal.more.now !== undefined) problem.now = refusal.more.now;
    response
      .status(status)
      .set('Cache-Control', 'no-store')
      .type('application/problem+json')
      .send(JSON.stringify(problem));
  };
}

const titleOf = (code: Code): string => code.replaceAll('-', ' ').replace(/^./, (c) => c.toUpperCase());

function asRefusal(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  const e = error as { type?: string; status?: number; code?: string };
  if (e.type === 'entity.too.large')
    return new Refusal('too-large', 'This is more than can be sent at once. Nothing was changed.');
  if (e.type === 'entity.parse.failed' || e.status === 400)
    return new Refusal('bad-request', 'What was sent could not be read. Nothing was changed.');
  if (e.code === 'ECONNREFUSED' || e.code === '57P01' || e.code === '57P03' || e.code?.startsWith('08'))
    return new Refusal(
      'unavailable',
      'The database does not answer just now. What you typed is kept on your machine and is tried again.',
    );
  if (e instanceof Error && /timeout exceeded when trying to connect|Connection terminated/i.test(e.message))
    return new Refusal(
      'unavailable',
      'The database does not answer just now. What you typed is kept on your machine and is tried again.',
    );
  return new Refusal(
    'broken',
    'Something went wrong on the server. Nothing was changed; try again, and tell the office if it stays.',
  );
}
