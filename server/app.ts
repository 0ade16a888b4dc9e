import { createServer, type Server } from 'node:http';
import express from 'express';
import type pg from 'pg';
import { pino, type Logger } from 'pino';
import type { Config } from './kernel/config';
import { Live } from './modules/presence';
import { Refusal } from './kernel/refusal';
import { API, mount, problems } from './http/mount';
import { noteEscapes } from './http/unstorable-text';
import { answerHeaders, guard, pages } from './http/pages';
import { allRoutes } from './routes';
import { sessions } from './http/sessions';
import { fastPath } from './http/fast-path';
import { rollOutInThreads, RolloutRunner, type RolloutWork } from './modules/policy-rollout';
import { Admission } from './modules/accounts';

/** The application, which listens nowhere yet, and what has to be ended with it. */
export interface App {
  server: Server;
  rollouts: RolloutRunner;
  stop(): Promise<void>;
}

export function makeApp(
  pool: pg.Pool,
  config: Config,
  log: Logger = pino({ level: 'warn' }),
  startRollouts: () => RolloutWork = () => rollOutInThreads(config.databaseUrl),
): App {
  const rollouts = new RolloutRunner(pool, startRollouts, (error) =>
    log.error({ err: error }, 'the rules of a school did not get on'),
  );
  const live = new Live(pool, config.databaseUrl, (error) => log.error({ err: error }, 'telling of changes failed'));
  const app = express();
  app.disable('x-powered-by');
  // Answers are not to be kept, so a tag over megabytes of them would be work for nothing.
  app.disable('etag');
  app.set('trust proxy', config.secureCookies ? 1 : false);
  guard(app, API, config.secureCookies);
  app.use(API, express.json({ limit: '32mb', verify: (request, _response, text) => noteEscapes(request, text) }));
  app.use(`${API}/session`, sessions(pool, config));
  const routes = allRoutes(pool, live, rollouts.wake);
  const deps = { pool, admission: new Admission(pool), config, log };
  mount(app, routes, deps);
  app.use(API, () => {
    throw new Refusal('not-found', 'There is nothing at this address.');
  });
  if (config.webFolder !== '') pages(app, config.webFolder);
  app.use(problems(log));
  return {
    server: createServer(fastPath(routes, deps, answerHeaders(config.secureCookies), app)),
    rollouts,
    stop: async () => {
      await rollouts.stop();
      await live.stop();
    },
  };
}
