import { spawn } from 'node:child_process';
import { Stop } from './say.mjs';

/** Runs a program to its end, its output shown or gathered. Gives { code, output }. */
export function run(command, args, options = {}) {
  return new Promise((done, failed) => {
    const quiet = options.quiet === true;
    const child = spawn(command, args, {
      cwd: options.cwd,
      env: options.env ?? process.env,
      uid: options.uid,
      gid: options.gid,
      stdio: ['ignore', quiet ? 'pipe' : 'inherit', quiet ? 'pipe' : 'inherit'],
    });
    options.started?.(child);
    let output = '';
    child.stdout?.on('data', (d) => (output += d));
    child.stderr?.on('data', (d) => (output += d));
    child.on('error', failed);
    child.on('close', (code, signal) => done({ code: signal ? 1 : code, output }));
  });
}

/** The same, and a Stop with the sentence where it fails. */
export async function must(says, command, args, options = {}) {
  const { code, output } = await run(command, args, options);
  if (code === 0) return output;
  if (/No space left on device|ENOSPC/.test(output))
    throw new Stop('The disk is full. Make room and start again; nothing that was kept is lost.');
  throw new Stop(`${says}${output.trim() ? `\n${output.trim().split('\n').slice(-15).join('\n')}` : ''}`);
}
