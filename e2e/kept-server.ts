import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { serverEnvironment, type ServerOptions } from '../scripts/lib/server.mjs';
import { root } from '../scripts/lib/stamps.mjs';

/** Milliseconds that a server has to end; its process is ended after them. */
const ENDS_WITHIN = 5_000;

/**
 * The process of a worker's servers: it serves the database of one test after another, so that the server's code is read
 * and compiled once. One that a test kills is begun anew.
 */
export class KeptServer {
  private child: ChildProcess | null = null;
  /** What it wrote since the test began. */
  private log = '';

  /** Serves with these options from now on. Rejects with why it cannot. */
  async serve(options: Omit<ServerOptions, 'log'>): Promise<void> {
    const answer = await this.ask(serverEnvironment(options));
    if (answer.error !== undefined) throw new Error(answer.error);
  }

  /** Serves nobody any more: what it was given may be taken away. Gives what it wrote. */
  async rest(): Promise<string> {
    const late = setTimeout(() => void this.kill(), ENDS_WITHIN);
    const { error } = this.isUp() ? await this.ask(null).catch((e: unknown) => ({ error: String(e) })) : {};
    clearTimeout(late);
    // One that cannot end in order serves no further test.
    if (error !== undefined) await this.kill();
    const said = error === undefined ? this.log : `${this.log}\n${error}\n`;
    this.log = '';
    return said;
  }

  /** Ends the process as a fault would. */
  async kill(): Promise<void> {
    const { child } = this;
    this.child = null;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((done) => child.once('exit', done));
    child.kill('SIGKILL');
    await gone;
  }

  private isUp(): boolean {
    return this.child !== null && this.child.exitCode === null && this.child.signalCode === null;
  }

  private ask(env: NodeJS.ProcessEnv | null): Promise<{ error?: string }> {
    if (!this.isUp()) this.child = this.begin(env!);
    const child = this.child!;
    return new Promise((answered, failed) => {
      const ended = (): void => failed(new Error(`The server ended. ${this.log}`));
      child.once('exit', ended);
      child.once('message', (answer: { error?: string }) => {
        child.off('exit', ended);
        answered(answer);
      });
      child.send(env as object);
    });
  }

  private begin(env: NodeJS.ProcessEnv): ChildProcess {
    const child = spawn(process.execPath, ['--enable-source-maps', join(root, 'dist/server/serve-again.mjs')], {
      cwd: root,
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
      detached: true,
      env,
    });
    for (const stream of [child.stdout!, child.stderr!])
      stream.on('data', (text) => (this.log = (this.log + String(text)).slice(-50_000)));
    return child;
  }
}
