import express, { type Express, type Request, type RequestHandler, type Response } from 'express';
import type { Logger } from 'pino';
import { admitCall, answerOf, problemOf, throughVeil, PROBLEM_TYPE, type ServerDeps } from './answer';
import { Refusal } from '../kernel/refusal';
import { noteEscapes } from './unstorable-text';
import { isBookPermission } from '../kernel/permissions';
import { NAMES, PERMISSIONS, type Context, type FileAnswer, type Route } from './route';

export const API = '/api/v1';

/** Bytes that a request may have where its route says nothing else. */
const USUAL_BODY = 100_000;
const READERS = new Map<number, RequestHandler>();

/** Reads what was sent, which nobody looks at before its sender is let in. */
function bodyOf(route: Route, request: Request, response: Response): Promise<unknown> {
  const limit = route.maxBytes ?? USUAL_BODY;
  if (Number(request.headers['content-length'] ?? 0) > limit) throw tooLarge(response);
  let reader = READERS.get(limit);
  if (!reader)
    READERS.set(limit, (reader = express.json({ limit, verify: (r, _response, text) => noteEscapes(r, text) })));
  return new Promise((done, failed) =>
    reader(request, response, (error?: unknown) => {
      if ((error as { type?: string } | undefined)?.type === 'entity.too.large') failed(tooLarge(response));
      else if (error) failed(error as Error);
      else done(request.body);
    }),
  );
}

/** What is left of it is not read: the line is closed behind the answer. */
function tooLarge(response: Response): Refusal {
  response.set('Connection', 'close');
  return new Refusal('too-large', 'This is more than can be sent at once. Nothing was changed.');
}

/** Puts the routes up. One without a known permission does not start. */
export function mount(app: Express, routes: readonly Route[], deps: ServerDeps): void {
  for (const route of routes) {
    if (!PERMISSIONS.includes(route.permission))
      throw new Error(`the route ${route.method} ${route.path} declares no permission`);
    if (isBookPermission(route.permission) && !NAMES.includes(route.names!))
      throw new Error(`the route ${route.method} ${route.path} does not say what it does where names are hidden`);
    app[route.method](API + route.path.replace(/\{(\w+)\}/g, ':$1'), handler(route, deps));
  }
}

function handler(route: Route, deps: ServerDeps): RequestHandler {
  return async (request, response) => {
    const params = request.params as Record<string, string>;
    const call = await admitCall(deps, route, request, params, () =>
      route.stream ? undefined : bodyOf(route, request, response),
    );
    const context: Context<never> = { ...call, request, response };
    if (route.stream) return throughVeil(deps, context, () => route.stream!(context));
    const answer = await answerOf(deps, route, context);
    if (route.answer === 'text/csv') return sendFile(response, answer as FileAnswer);
    response
      .status(route.status ?? 200)
      .set('Cache-Control', 'no-store')
      .json(answer);
  };
}

function sendFile(response: Response, file: FileAnswer): void {
  response
    .status(200)
    .set('Cache-Control', 'no-store')
    .set('Content-Type', 'text/csv; charset=utf-8')
    .set('Content-Disposition', `attachment; filename="${file.name}"`)
    .send(file.text);
}

/** Turns every failure into problem+json. */
export function problems(log: Logger) {
  return (error: unknown, request: Request, response: Response, next: (e?: unknown) => void): void => {
    if (response.headersSent) return next(error);
    const problem = problemOf(log, error, request.path);
    response
      .status(problem.status)
      .set('Cache-Control', 'no-store')
      .set('Content-Type', PROBLEM_TYPE)
      .send(JSON.stringify(problem));
  };
}
