import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { must, run } from './run.mjs';
import { say, Stop } from './say.mjs';
import { hashOf, isFresh, putStamp, root } from './stamps.mjs';

export function requireNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major !== 20 || minor < 11)
    throw new Stop(`Last Tally needs Node 20.11 or later of version 20; this is Node ${process.versions.node}.`);
}

/** The npm packages of the lock file, installed where they are missing or of another lock. */
export async function ensurePackages() {
  const stamp = join(root, 'node_modules', '.last-tally-lock');
  const hash = hashOf(['package-lock.json']);
  if (isFresh(stamp, hash)) return;
  say('Installing the npm packages (about a minute) …');
  await must('The npm packages could not be installed.', 'npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    quiet: true,
  });
  putStamp(stamp, hash);
}

/** Installs Debian packages as root, or says the one line to run. */
export async function installDebian(packages, why) {
  const line = `apt-get update && apt-get install -y --no-install-recommends ${packages.join(' ')}`;
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get'))
    throw new Stop(`${why} is missing on this machine. Run this once as root, then start again:\n\n  ${line}\n`);
  say(`Installing ${packages.join(' ')} from Debian's packages …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  await run('apt-get', ['update'], { quiet: true, env });
  await must(
    `${why} could not be installed. By hand: ${line}`,
    'apt-get',
    ['install', '-y', '--no-install-recommends', ...packages],
    { quiet: true, env },
  );
}
