import { Worker } from 'node:worker_threads';
import { END } from '../threads';
import { after } from '../timers';

/** Milliseconds until a thread that ended by a fault is begun again. */
const AGAIN_AFTER = 5_000;

/** The thread in which all jobs are done, so that nobody waits for them; begun anew where it ends by a fault. */
export class JobThread {
  private thread: Worker | null = null;
  private ending = false;

  constructor(
    private readonly script: URL,
    private readonly data: unknown,
    private readonly failed: (error: unknown) => void,
  ) {}

  start(): void {
    if (this.ending) return;
    const thread = (this.thread = new Worker(this.script, { workerData: this.data }));
    thread.on('error', this.failed);
    thread.on('exit', (code) => {
      this.thread = null;
      if (this.ending) return;
      this.failed(new Error(`the thread of the jobs ended (${code})`));
      after(AGAIN_AFTER, () => this.start());
    });
  }

  /** Lets the jobs under way end, as long as they have to. */
  async stop(within: number): Promise<void> {
    this.ending = true;
    const { thread } = this;
    if (!thread) return;
    const ended = new Promise<void>((done) => thread.once('exit', () => done()));
    thread.postMessage(END);
    after(within, () => void thread.terminate());
    await ended;
  }
}
