import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { Stop } from './say.mjs';
import { root } from './stamps.mjs';

/** Stops with a sentence where the port is taken. */
export function requireFreePort(port) {
  return new Promise((done, failed) => {
    const probe = createServer();
    probe.on('error', () =>
      failed(new Stop(`Port ${port} is taken by another program. Choose another: PORT=4310 npm start`)),
    );
    probe.listen(port, '127.0.0.1', () => probe.close(done));
  });
}

const toStderr = (text) => void process.stderr.write(text);

/** What the built server is told by its environment. */
export const serverEnvironment = ({
  databaseUrl,
  port,
  sessionSecret,
  setupCode,
  checkAnswers = false,
  demoClock = '',
  extra = {},
}) => ({
  ...process.env,
  DATABASE_URL: databaseUrl,
  PORT: String(port),
  SESSION_SECRET: sessionSecret,
  SETUP_CODE: setupCode,
  DEMO_CLOCK: demoClock,
  WEB_FOLDER: join(root, 'dist/web/browser'),
  MIGRATIONS_FOLDER: join(root, 'server/migrations'),
  CHECK_ANSWERS: String(checkAnswers),
  END_WITH_PARENT: 'true',
  ...extra,
});

/**
 * Starts the built server and waits until it listens. It ends when its starter does. `log` is given what it writes.
 * Gives { child, port }.
 */
export function startServer({ log = toStderr, ...options }) {
  const child = spawn(process.execPath, ['--enable-source-maps', join(root, 'dist/server/main.mjs')], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    // Not in the terminal's group: Ctrl-C reaches the starter, which ends everything in order.
    detached: true,
    env: serverEnvironment(options),
  });
  let errors = '';
  child.stderr.on('data', (d) => {
    errors = (errors + d).slice(-4000);
    log(String(d));
  });
  return new Promise((done, failed) => {
    let listening = false;
    child.stdout.on('data', (d) => {
      // What the server logs is for whoever started it: nothing that went wrong is lost.
      if (!/^listening \d+/.test(String(d))) log(String(d));
      const m = /listening (\d+)/.exec(String(d));
      if (!m) return;
      listening = true;
      done({ child, port: Number(m[1]) });
    });
    child.on('exit', () => {
      if (!listening)
        failed(new Stop(errors.trim() ? 'The server did not start.' : 'The server ended before it was ready.'));
    });
  });
}

export function endServer(child) {
  return new Promise((done) => {
    if (child.exitCode !== null || child.signalCode !== null) return done();
    const late = setTimeout(() => child.kill('SIGKILL'), 5_000);
    child.on('exit', () => {
      clearTimeout(late);
      done();
    });
    child.kill('SIGTERM');
  });
}
