// npm start: does all the set-up, starts everything, and says where it is. Needs no package to be installed beforehand.
import { randomBytes, randomInt } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { build } from './lib/build.mjs';
import { ensureDatabase, hasSchool, openCluster, startClock } from './lib/database/cluster.mjs';
import { ensureDemoDump } from './lib/database/demo-school.mjs';
import { restoreDatabase } from './lib/database/dump.mjs';
import { ensurePackages, requireNode } from './lib/packages.mjs';
import { startMailStandIn } from './lib/mail-stand-in.mjs';
import { say, sentenceFor, Stop } from './lib/say.mjs';
import { endServer, requireFreePort, startServer } from './lib/server.mjs';
import { data } from './lib/stamps.mjs';

const fresh = process.argv.includes('--fresh');
/** A real school begins empty; somebody's own database is never given made-up people or known passwords. */
const empty = process.argv.includes('--empty') || Boolean(process.env.DATABASE_URL);
const DATABASE = 'last_tally';
const lock = join(data, 'running');
const halfMade = join(data, 'demo-half-made');
let ending = false;
/** Whether the private database, where there is one, ran out of disk. */
let diskWasFull = () => false;
const DISK_FULL = 'The disk is full. Make room and start again; nothing that was shown as kept is lost.';
const toEnd = [];

async function end(code) {
  if (ending) return;
  ending = true;
  for (const stop of toEnd.reverse()) await stop().catch(() => undefined);
  process.exit(code);
}

function readPort() {
  const port = Number(process.env.PORT ?? 4300);
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    throw new Stop(`PORT is “${process.env.PORT}”, which is no port number.`);
  return port;
}

function takeLock() {
  mkdirSync(data, { recursive: true, mode: 0o755 });
  if (existsSync(lock)) {
    const pid = Number(readFileSync(lock, 'utf8'));
    try {
      if (pid && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs'))
        throw new Stop(
          'Last Tally is running already from this folder. End that one first (Ctrl-C where it was started).',
        );
    } catch (error) {
      if (error instanceof Stop) throw error;
    }
  }
  writeFileSync(lock, String(process.pid));
  toEnd.push(async () => rmSync(lock, { force: true }));
}

function keptSecret(name) {
  const file = join(data, name);
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 });
  return readFileSync(file, 'utf8').trim();
}

/** Sixteen letters and digits that are not taken for each other, in fours. */
function newCode() {
  const letters = '23456789abcdefghjkmnpqrstuvwxyz';
  const one = () => letters[randomInt(letters.length)];
  return Array.from({ length: 4 }, () => one() + one() + one() + one()).join('-');
}

/** The private database with the demo school in it, where a school does not begin empty; or the one that is named. */
async function openDatabase() {
  if (process.env.DATABASE_URL) {
    if (fresh)
      throw new Stop(
        '--fresh remakes the private database alone. Empty the one of DATABASE_URL yourself, or start without it.',
      );
    return process.env.DATABASE_URL;
  }
  const cluster = await openCluster({ folder: join(data, 'cluster') });
  toEnd.push(() => cluster.stop());
  diskWasFull = cluster.diskWasFull;
  const url = await ensureDatabase(cluster, DATABASE, fresh || existsSync(halfMade));
  rmSync(halfMade, { force: true });
  if (!empty && !(await hasSchool(cluster, DATABASE))) await putDemoIn(cluster);
  return url;
}

/** The demo school is made once for its sources as they are, and put in from its file after that. */
async function putDemoIn(cluster) {
  let loader;
  const making = ensureDemoDump({
    cluster,
    begins: () => say('Making the demo school (about half a minute) …'),
    started: (child) => (loader = child),
  });
  // Who ends the start meanwhile ends what makes it too, and nothing of it is left running.
  toEnd.push(
    () => making.then(undefined, () => undefined),
    async () => void loader?.kill(),
  );
  const dump = await making;
  say('Putting the demo school in …');
  writeFileSync(halfMade, '');
  await ensureDatabase(cluster, DATABASE, true);
  await restoreDatabase(cluster, DATABASE, dump);
  await startClock(cluster, DATABASE, (await import('../demo/accounts.mjs')).DEMO_CLOCK);
  rmSync(halfMade, { force: true });
}

async function main() {
  requireNode();
  const port = readPort();
  await requireFreePort(port);
  takeLock();
  await ensurePackages();
  await build();
  const databaseUrl = await openDatabase();
  const setupCode = newCode();
  const { ACCOUNTS, DEMO_CLOCK } = await import('../demo/accounts.mjs');
  // A demo's mail goes nowhere but to a page of this machine; a school names its own mail server.
  const mail = empty || process.env.MAIL_SERVER ? null : await startMailStandIn(port + 1);
  if (mail) toEnd.push(() => endServer(mail.child));
  const server = await startServer({
    databaseUrl,
    port,
    sessionSecret: keptSecret('session-secret'),
    setupCode,
    demoClock: empty ? '' : DEMO_CLOCK,
    extra: mail ? { MAIL_SERVER: `smtp://127.0.0.1:${mail.smtp}` } : {},
  });
  toEnd.push(() => endServer(server.child));
  server.child.on('exit', () => {
    if (ending) return;
    say(
      diskWasFull()
        ? DISK_FULL
        : 'The server has ended by itself. Start again; everything that was shown as kept is kept.',
    );
    void end(1);
  });
  const address = `http://localhost:${port}`;
  const health = await (await fetch(`http://127.0.0.1:${port}/api/v1/health`)).json();
  say(`\nLast Tally is ready: ${address}\n`);
  if (mail) say(`What it sends by mail is read here: http://localhost:${mail.page}\n`);
  if (health.demo) {
    if (process.argv.includes('--empty'))
      say(
        process.env.DATABASE_URL
          ? 'The demo school is in this database already and was left. Name an empty one for a school of your own.\n'
          : 'The demo school is in this database already and was left. For an empty one: npm start -- --fresh --empty\n',
      );
    say('Accounts of the demo school (each with the password beside it):');
    for (const a of ACCOUNTS) say(`  ${a.login.padEnd(12)} ${a.password.padEnd(16)} ${a.who}`);
  } else if (!health.school) {
    say('There is no school yet. Open the address and make it there, with this code:');
    say(`\n  ${setupCode}\n`);
    say('The code is for one school and ends with it; another start prints another.');
  }
  say('\nCtrl-C ends it.');
}

process.on('SIGINT', () => void end(0));
process.on('SIGTERM', () => void end(0));
process.on('SIGHUP', () => void end(0));
main().catch((error) => {
  // Where the server ended first, that has been said.
  if (!ending) process.stderr.write(`${diskWasFull() ? DISK_FULL : sentenceFor(error)}\n`);
  void end(1);
});
