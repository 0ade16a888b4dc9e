import type pg from 'pg';
import { Type } from '@sinclair/typebox';
import { Shape } from '@contract/wire';
import { journalKinds } from './journal-kinds';
import { openApi } from './http/openapi';
import { route, type Route } from './http/route';
import { SignInThrottle } from './http/throttle';
import { anyDemo, anySchool } from './modules/accounts';
import { accountsRoutes } from './modules/accounts/http';
import { annotationsRoutes } from './modules/annotations/http';
import { assessmentRoutes } from './modules/assessments/http';
import { makeTerm } from './modules/book-lifecycle';
import { bookLifecycleRoutes } from './modules/book-lifecycle/http';
import { booksRoutes } from './modules/books/http';
import { closingRoutes } from './modules/closing/http';
import { failedJobsRoutes } from './modules/failed-jobs/http';
import { feedbackRoutes } from './modules/feedback/http';
import { groupsRoutes } from './modules/groups/http';
import { historyRoutes } from './modules/history/http';
import { instructionRoutes } from './modules/instructions/http';
import { letterRoutes } from './modules/letters/http';
import { mailRoutes } from './modules/mail/http';
import { workMarkRoutes } from './modules/work-marks/http';
import { markingRoutes } from './modules/marking/http';
import { ownDataRoutes } from './modules/own-data/http';
import { noticesRoutes } from './modules/notices/http';
import { overviewRoutes } from './modules/overview/http';
import { peopleRoutes } from './modules/people/http';
import { policyRoutes } from './modules/policy/http';
import { type Live } from './modules/presence';
import { presenceRoutes } from './modules/presence/http';
import { ruleRoutes } from './modules/rules/http';
import { ScoreBatcher } from './modules/scores';
import { scoresRoutes } from './modules/scores/http';
import { releaseHere, type ReleaseRunner } from './modules/statements';
import { statementsRoutes } from './modules/statements/http';
import { DatabaseFileStore } from './kernel/files/file-store';
import { threadRoutes } from './modules/threads/http';
import { submissionsRoutes } from './modules/submissions/http';

/** All doors of the API. `failed` hears of what went wrong where no answer says it. */
export function allRoutes(
  pool: pg.Pool,
  live: Live,
  failed: (error: unknown) => void,
  release: ReleaseRunner = releaseHere,
): Route[] {
  const files = new DatabaseFileStore(pool);
  const routes: Route[] = [
    // First what is asked most: routes are tried in their order.
    ...scoresRoutes(new ScoreBatcher(pool)),
    ...accountsRoutes(new SignInThrottle(pool), makeTerm),
    ...booksRoutes,
    ...bookLifecycleRoutes,
    ...assessmentRoutes,
    ...peopleRoutes,
    ...ruleRoutes,
    ...policyRoutes,
    ...historyRoutes(journalKinds),
    ...presenceRoutes(live),
    ...annotationsRoutes,
    ...groupsRoutes,
    ...statementsRoutes(release, files),
    ...submissionsRoutes(files, failed),
    ...instructionRoutes(files),
    ...markingRoutes,
    ...feedbackRoutes(files),
    ...workMarkRoutes,
    ...threadRoutes,
    ...letterRoutes,
    ...noticesRoutes,
    ...ownDataRoutes(files),
    ...mailRoutes,
    ...closingRoutes,
    ...overviewRoutes,
    ...failedJobsRoutes,
    route({
      method: 'get',
      path: '/health',
      permission: 'anyone',
      summary: 'Whether the server and its database answer, whether there is a school yet, and whether that is a demo.',
      answer: Shape({ ready: Type.Literal(true), school: Type.Boolean(), demo: Type.Boolean() }),
      async handler({ pool: db }) {
        return { ready: true as const, school: await anySchool(db), demo: await anyDemo(db) };
      },
    }),
  ];
  routes.push(
    route({
      method: 'get',
      path: '/openapi.json',
      permission: 'anyone',
      summary: 'This description.',
      answer: Type.Unsafe<object>({ type: 'object' }),
      handler: async () => openApi(routes),
    }),
  );
  return routes;
}
