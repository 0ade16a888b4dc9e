// npm run -s backup > FILE and npm run -s restore < FILE: the whole database, with PostgreSQL's own programs.
import { spawn } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { sentenceFor, Stop } from './lib/say.mjs';
import { withDatabase } from './lib/database/which-database.mjs';

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
  await withDatabase(
    async (url) => {
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
    },
    { make: what === 'restore' },
  );
}

main(process.argv[2]).catch((error) => {
  process.stderr.write(`${sentenceFor(error)}\n`);
  process.exit(1);
});
