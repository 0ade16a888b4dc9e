import { createServer, type Server } from 'node:http';
import express from 'express';
import type pg from 'pg';
import { pino, type Logger } from 'pino';
import { Type } from '@sinclair/typebox';
import { Shape } from '@contract/wire';
import type { Config } from './config';
import { Live } from './domain/live';
import { Refusal } from './domain/problems';
import { ScoreGate } from './domain/score-gate';
import { API, mount, problems } from './http/mount';
import { noteNumbered } from './http/odd-text';
import { openApi } from './http/openapi';
import { answerHeaders, guard, pages } from './http/pages';
import { route, type Route } from './http/route';
import { assessmentRoutes } from './http/routes/assessments';
import { bookRoutes } from './http/routes/books';
import { mineRoutes } from './http/routes/mine';
import { exceptionRoutes } from './http/routes/exceptions';
import { journalRoutes } from './http/routes/journal';
import { liveRoutes } from './http/routes/live';
import { officeRoutes } from './http/routes/office';
import { rosterRoutes } from './http/routes/roster';
import { ruleRoutes } from './http/routes/rules';
import { schoolRuleRoutes } from './http/routes/school-rules';
import { scoreRoutes } from './http/routes/scores';
import { signInRoutes } from './http/routes/sign-in';
import { sessions } from './http/sessions';
import { straight } from './http/straight';
import { inThreads, Turns, type TurnWork } from './jobs/turns';
import { SignInThrottle } from './http/throttle';
import { Admission } from './store/admission';
import { anySchool } from './store/people';

/** All doors of the API. */
export function allRoutes(pool: pg.Pool, live: Live, wake: () => void): Route[] {
  const routes: Route[] = [
    // First what is asked most: routes are tried in their order.
    ...scoreRoutes(new ScoreGate(pool)),
    ...signInRoutes(new SignInThrottle(pool)),
    ...bookRoutes,
    ...assessmentRoutes,
    ...exceptionRoutes,
    ...rosterRoutes,
    ...ruleRoutes,
    ...schoolRuleRoutes(wake),
    ...journalRoutes,
    ...liveRoutes(live),
    ...officeRoutes,
    ...mineRoutes,
    route({
      method: 'get',
      path: '/health',
      permission: 'anyone',
      says: 'Whether the server and its database answer, and whether there is a school yet.',
      answer: Shape({ ready: Type.Literal(true), school: Type.Boolean() }),
      async does({ pool: db }) {
        return { ready: true as const, school: await anySchool(db) };
      },
    }),
  ];
  routes.push(
    route({
      method: 'get',
      path: '/openapi.json',
      permission: 'anyone',
      says: 'This description.',
      answer: Type.Unsafe<object>({ type: 'object' }),
      does: async () => openApi(routes),
    }),
  );
  return routes;
}

/** The application, which listens nowhere yet, and what has to be ended with it. */
export interface App {
  server: Server;
  turns: Turns;
  stop(): Promise<void>;
}

export function makeApp(
  pool: pg.Pool,
  config: Config,
  log: Logger = pino({ level: 'warn' }),
  beginTurns: () => TurnWork = () => inThreads(config.databaseUrl),
): App {
  const turns = new Turns(pool, beginTurns, (error) =>
    log.error({ err: error }, 'the rules of a school did not get on'),
  );
  const live = new Live(pool, config.databaseUrl, (error) => log.error({ err: error }, 'telling of changes failed'));
  const app = express();
  app.disable('x-powered-by');
  // Answers are not to be kept, so a tag over megabytes of them would be work for nothing.
  app.disable('etag');
  app.set('trust proxy', config.secureCookies ? 1 : false);
  guard(app, API, config.secureCookies);
  app.use(API, express.json({ limit: '32mb', verify: (request, _response, text) => noteNumbered(request, text) }));
  app.use(`${API}/session`, sessions(pool, config));
  const routes = allRoutes(pool, live, turns.wake);
  const house = { pool, admission: new Admission(pool), config, log };
  mount(app, routes, house);
  app.use(API, () => {
    throw new Refusal('not-found', 'There is nothing at this address.');
  });
  if (config.webFolder !== '') pages(app, config.webFolder);
  app.use(problems(log));
  return {
    server: createServer(straight(routes, house, answerHeaders(config.secureCookies), app)),
    turns,
    stop: async () => {
      await turns.stop();
      await live.stop();
    },
  };
}
