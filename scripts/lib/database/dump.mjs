import { mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { must } from '../run.mjs';

/** Writes a database of a cluster to a file, whole or not at all, in the place of older ones in that folder. */
export async function dumpDatabase(cluster, name, file) {
  const folder = dirname(file);
  mkdirSync(folder, { recursive: true });
  const part = `${file}.part-${process.pid}`;
  await must('The database could not be written to a file.', join(cluster.bin, 'pg_dump'), ['-Fc', '-f', part, name], {
    env: cluster.env,
    quiet: true,
  });
  renameSync(part, file);
  for (const other of readdirSync(folder)) if (other !== basename(file)) rmSync(join(folder, other), { force: true });
}

/** Puts such a file into an empty database. */
export async function restoreDatabase(cluster, name, file) {
  await must(
    'The database could not be read from its file.',
    join(cluster.bin, 'pg_restore'),
    ['--no-owner', '-d', name, file],
    { env: cluster.env, quiet: true },
  );
}
