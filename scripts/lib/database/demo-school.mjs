import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { DEMO_CLOCK } from '../../../demo/accounts.mjs';
import { ensureDatabase, openThrowawayCluster, removeDatabase } from './cluster.mjs';
import { dumpDatabase } from './dump.mjs';
import { startMailStandIn } from '../mail-stand-in.mjs';
import { must } from '../run.mjs';
import { endServer, startServer } from '../server.mjs';
import { hashOf, root } from '../stamps.mjs';

/** What the demo school is made of and by: a dump of it is right for as long as these are the same. */
const SOURCES = ['server', 'core', 'contract', 'demo', 'scripts/lib', 'package-lock.json', 'tsconfig.base.json'];

/** The database in which it is made; one that a start left, which was ended in the middle, is made anew. */
const MAKING = 'last_tally_demo';

/** A server on a database, which it brings up to date, for as long as something is done with it. */
export async function withServer(databaseUrl, doing, extra = {}) {
  const server = await startServer({
    databaseUrl,
    port: 0,
    sessionSecret: 'e2e',
    setupCode: 'e2e',
    checkAnswers: true,
    demoClock: DEMO_CLOCK,
    extra,
  });
  try {
    await doing(`http://127.0.0.1:${server.port}`);
  } finally {
    await endServer(server.child);
  }
}

/**
 * The file with the demo school, made through the API where there is none of the sources as they are: `begins` is told
 * so, and `started` is given the process that makes it. It is made in a database of `cluster` that is dropped again, or in
 * a cluster of its own; its mail is taken in by a stand-in. Needs what is built.
 */
export async function ensureDemoDump({ cluster, begins = () => undefined, started = () => undefined } = {}) {
  const dump = join(root, '.cache', 'demo-school', `${hashOf(SOURCES)}.dump`);
  if (existsSync(dump)) return dump;
  begins();
  const place = cluster ?? (await openThrowawayCluster());
  const mail = await startMailStandIn();
  try {
    const url = await ensureDatabase(place, MAKING, true);
    const load = (address) =>
      must('The demo school could not be made.', process.execPath, ['--import', 'tsx', 'demo/load.ts'], {
        quiet: true,
        started,
        cwd: root,
        env: { ...process.env, LAST_TALLY: address, DATABASE_URL: url, SETUP_CODE: 'e2e' },
      });
    await withServer(url, load, { MAIL_SERVER: `smtp://127.0.0.1:${mail.smtp}` });
    await dumpDatabase(place, MAKING, dump);
  } finally {
    await endServer(mail.child);
    await (cluster ? removeDatabase(cluster, MAKING) : place.stop());
  }
  return dump;
}
