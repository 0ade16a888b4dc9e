import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

export const root = join(dirname(new URL(import.meta.url).pathname), '..', '..');
export const data = process.env.LAST_TALLY_DATA ?? join(root, '.data');

/** Tests and their helpers are in nothing that is built. */
const TESTS = /(\.spec\.ts|\.test\.ts|\/testing\/.*)$/;

/**
 * A hash over the names and contents of files and folders: what was made from them is stale when it differs. Without
 * `tests`, files of tests are left out.
 */
export function hashOf(paths, { tests = false } = {}) {
  const hash = createHash('sha256');
  const walk = (path) => {
    if (!existsSync(path)) return;
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) walk(join(path, name));
    else if (tests || !TESTS.test(path))
      hash.update(path.slice(root.length)).update('\0').update(readFileSync(path)).update('\0');
  };
  for (const p of paths) walk(join(root, p));
  return hash.digest('hex');
}

/** What is never checked in, and what git keeps. */
const NOT_SOURCES = /^(node_modules|dist|test-results|\.git|\.cache|\.data)$/;

/** A hash over everything that is written by hand, tests too. */
export const hashOfSources = () =>
  hashOf(
    readdirSync(root).filter((name) => !NOT_SOURCES.test(name)),
    { tests: true },
  );

export function isFresh(stamp, hash) {
  return existsSync(stamp) && readFileSync(stamp, 'utf8') === hash;
}

export function putStamp(stamp, hash) {
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, hash);
}
