// npm run -s backup > FILE and npm run -s restore < FILE: the whole database, with PostgreSQL's own programs.
import { spawn } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { ensureDatabase, openCluster } from './lib/cluster.mjs';
import { sentenceFor, Stop } from './lib/say.mjs';
import { data } from './lib/stamps.mjs';

const base = '/usr/lib/postgresql';

function program(name) {
  const version = existsSync(base) ? readdirSync(base).sort((a, b) => Number(b) - Number(a))[0] : undefined;
  if (!version)
    throw new Stop('PostgreSQL’s programs are not under /usr/lib/postgresql. Install the package postgresql-client.');
  return join(base, version, 'bin', name);
}

function through(command, args) {
  return new Promise((done, failed) => {
    const child = spawn(command, args, { stdio: 'inherit' });
    child.on('error', failed);
    child.on('close', (code) =>
      code === 0 ? done() : failed(new Stop('PostgreSQL’s program said why, above. Nothing was half done.')),
    );
  });
}

async function main(what) {
  if (what === 'backup' && process.stdout.isTTY)
    throw new Stop('Say where the back-up goes: npm run -s backup > school.dump');
  if (what === 'restore' && process.stdin.isTTY)
    throw new Stop('Say what to restore: npm run -s restore < school.dump');
  if (
    !process.env.DATABASE_URL &&
    what === 'backup' &&
    !existsSync(join(data, 'cluster-password')) &&
    !existsSync(join(data, 'where-the-database-lies.txt'))
  )
    throw new Stop('There is no database here yet: start the application once, or name one with DATABASE_URL.');
  const running = existsSync(join(data, 'running'));
  const cluster = process.env.DATABASE_URL ? null : await openCluster({ folder: join(data, 'cluster') });
  try {
    const url = process.env.DATABASE_URL ?? (await ensureDatabase(cluster, 'last_tally'));
    if (what === 'backup') await through(program('pg_dump'), ['--format=custom', '--no-owner', url]);
    else
      await through(program('pg_restore'), [
        '--clean',
        '--if-exists',
        '--no-owner',
        '--single-transaction',
        '--exit-on-error',
        `--dbname=${url}`,
      ]);
  } finally {
    // A database that the application is using goes on.
    if (cluster && !running) await cluster.stop();
  }
}

main(process.argv[2]).catch((error) => {
  process.stderr.write(`${sentenceFor(error)}\n`);
  process.exit(1);
});
