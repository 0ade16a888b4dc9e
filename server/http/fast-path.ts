import type { IncomingMessage, RequestListener, ServerResponse } from 'node:http';
import {
  admitCall,
  admitCallFromCache,
  answerOf,
  problemOf,
  PROBLEM_TYPE,
  unreadableBody,
  type ServerDeps,
} from './answer';
import { API } from './mount';
import { noteEscapes } from './unstorable-text';
import type { Route } from './route';

/** Bytes of a body that comes in this way. */
const MAX_BYTES = 100_000;

/**
 * A way in for what is asked most, the keeping of one score: the same admission, checks and answers as everything else,
 * without the framework, whose own part of such a request is three times the rest (decision 012). It takes what our own
 * pages send; whatever is written in another way (encoded names, a packed or chunked body, a query) goes on to `others`.
 */
export function fastPath(
  routes: readonly Route[],
  deps: ServerDeps,
  headers: Readonly<Record<string, string>>,
  others: RequestListener,
): RequestListener {
  const doors = routes.filter((r) => r.fastPath).map((route) => ({ route, ...pattern(route.path) }));
  return (request, response) => {
    for (const { route, names, matches } of doors) {
      if (request.method?.toLowerCase() !== route.method || !takes(request)) continue;
      const found = matches.exec(request.url!);
      if (!found) continue;
      const params = Object.fromEntries(names.map((n, i) => [n, found[i + 1]!]));
      return void answer(route, deps, headers, request, response, params);
    }
    others(request, response);
  };
}

function pattern(path: string): { names: string[]; matches: RegExp } {
  const names = [...path.matchAll(/\{(\w+)\}/g)].map((m) => m[1]!);
  return { names, matches: new RegExp(`^${API}${path.replace(/\{\w+\}/g, '([\\w.~-]+)')}$`) };
}

function takes({ headers }: IncomingMessage): boolean {
  const length = Number(headers['content-length']);
  return (
    headers['content-type'] === 'application/json' &&
    headers['content-encoding'] === undefined &&
    headers['transfer-encoding'] === undefined &&
    headers.expect === undefined &&
    length > 0 &&
    length <= MAX_BYTES
  );
}

async function answer(
  route: Route,
  deps: ServerDeps,
  headers: Readonly<Record<string, string>>,
  request: IncomingMessage,
  response: ServerResponse,
  params: Record<string, string>,
): Promise<void> {
  const send = (status: number, type: string, what: unknown): void => {
    const text = JSON.stringify(what);
    response.writeHead(status, {
      ...headers,
      'Cache-Control': 'no-store',
      'Content-Type': type,
      'Content-Length': Buffer.byteLength(text),
    });
    response.end(text);
  };
  try {
    const text = await textOf(request);
    noteEscapes(request, text);
    const body = parsed(text);
    const context =
      admitCallFromCache(deps, route, request, params, body) ??
      (await admitCall(deps, route, request, params, () => body));
    send(route.status ?? 200, 'application/json; charset=utf-8', await answerOf(deps, route, context));
  } catch (error) {
    // Whoever asked is gone: there is nobody to answer, and nothing was begun.
    if (request.destroyed && !request.complete) return;
    const problem = problemOf(deps.log, error, request.url!);
    send(problem.status, PROBLEM_TYPE, problem);
  }
}

function textOf(request: IncomingMessage): Promise<string> {
  return new Promise((done, failed) => {
    let text = '';
    request.setEncoding('utf8');
    request.on('data', (piece: string) => (text += piece));
    request.on('end', () => done(text));
    request.on('error', failed);
  });
}

function parsed(text: string): unknown {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw unreadableBody();
  }
  if (typeof value !== 'object' || value === null) throw unreadableBody();
  return value;
}
