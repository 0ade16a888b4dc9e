import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { root } from './stamps.mjs';

/**
 * Starts the mail stand-in, which takes mail in and sends none on. It ends when its starter does. Gives { child, smtp, page },
 * the ports of its mail server and of its page: the wanted one, or where that is taken one that is free.
 */
export function startMailStandIn(page = 0) {
  const child = spawn(process.execPath, ['--import', 'tsx', join(root, 'stand-ins/mail/main.ts')], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    detached: true,
    env: { ...process.env, PAGE_PORT: String(page) },
  });
  let errors = '';
  child.stderr.on('data', (d) => (errors = (errors + d).slice(-2000)));
  return new Promise((done, failed) => {
    child.stdout.on('data', (d) => {
      const m = /listening (\d+) (\d+)/.exec(String(d));
      if (m) done({ child, smtp: Number(m[1]), page: Number(m[2]) });
    });
    child.on('exit', () => failed(new Error(`The mail stand-in did not start. ${errors}`)));
  });
}
