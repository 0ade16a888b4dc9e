import { createServer, type Server } from 'node:http';
import compression from 'compression';
import express from 'express';
import type pg from 'pg';
import { pino, type Logger } from 'pino';
import { journalKinds } from './journal-kinds';
import type { Config } from './kernel/config';
import { Live } from './modules/presence';
import type { ReleaseRunner } from './modules/statements';
import { Refusal } from './kernel/refusal';
import { API, mount, problems } from './http/mount';
import { answerHeaders, guard, pages } from './http/pages';
import { allRoutes } from './routes';
import { sessions } from './http/sessions';
import { fastPath } from './http/fast-path';
import { Admission } from './modules/accounts';
import { HiddenNames } from './modules/hidden-names';

/**
 * Milliseconds for which a line with nothing on it is kept: longer than browsers and proxies keep theirs (60 s), so that they
 * are the ones who close it. A request that goes over a line as it is closed here would be lost.
 */
const LINE_KEPT = 75_000;

/** The application, which listens nowhere yet, and what has to be ended with it. */
export interface App {
  server: Server;
  stop(): Promise<void>;
}

/** `release`: does releases and withdrawals; here, unless somebody says otherwise. */
export function makeApp(
  pool: pg.Pool,
  config: Config,
  log: Logger = pino({ level: 'warn' }),
  release?: ReleaseRunner,
): App {
  const live = new Live(journalKinds, pool, config.databaseUrl, (error) =>
    log.error({ err: error }, 'telling of changes failed'),
  );
  const app = express();
  app.disable('x-powered-by');
  // Answers are not to be kept, so a tag over megabytes of them would be work for nothing.
  app.disable('etag');
  app.set('trust proxy', config.secureCookies ? 1 : false);
  guard(app, API, config.secureCookies);
  // Megabytes that say the same words over and over.
  app.get(`${API}/books/:book/sheet`, compression({ level: 1, threshold: 20_000 }));
  app.use(`${API}/session`, sessions(pool, config));
  const routes = allRoutes(pool, live, (error) => log.error({ err: error }, 'an upload failed'), release);
  const deps = { pool, admission: new Admission(pool), hiddenNames: new HiddenNames(pool), config, log };
  mount(app, routes, deps);
  app.use(API, () => {
    throw new Refusal('not-found', 'There is nothing at this address.');
  });
  if (config.webFolder !== '') pages(app, config.webFolder);
  app.use(problems(log));
  const server = createServer(fastPath(routes, deps, answerHeaders(config.secureCookies), app));
  server.keepAliveTimeout = LINE_KEPT;
  return { server, stop: () => live.stop() };
}
