// npm run password-link -- SIGN-IN-NAME: a link for a new password, made on the machine itself.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { buildServer } from './lib/build.mjs';
import { ensureDatabase, openCluster } from './lib/database/cluster.mjs';
import { ensurePackages, requireNode } from './lib/packages.mjs';
import { run } from './lib/run.mjs';
import { sentenceFor } from './lib/say.mjs';
import { data, root } from './lib/stamps.mjs';

async function main() {
  requireNode();
  await ensurePackages();
  const isRunning = existsSync(join(data, 'running'));
  const cluster = process.env.DATABASE_URL ? null : await openCluster({ folder: join(data, 'cluster') });
  try {
    await buildServer();
    const url = process.env.DATABASE_URL ?? (await ensureDatabase(cluster, 'last_tally', false));
    const address = process.env.PUBLIC_ADDRESS ?? `http://localhost:${process.env.PORT ?? 4300}`;
    const { code } = await run(
      process.execPath,
      [join(root, 'dist/server/password-link.mjs'), ...process.argv.slice(2)],
      { cwd: root, env: { ...process.env, DATABASE_URL: url, PUBLIC_ADDRESS: address } },
    );
    return code;
  } finally {
    // One that the running application uses is left to it.
    if (cluster && !isRunning) await cluster.stop();
  }
}

main().then(
  (code) => process.exit(code),
  (error) => {
    process.stderr.write(`${sentenceFor(error)}\n`);
    process.exit(1);
  },
);
