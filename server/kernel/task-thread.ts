import { parentPort, Worker } from 'node:worker_threads';
import { Refusal } from './refusal';
import { after } from './timers';

/** Milliseconds without a task after which the thread ends: the next one begins another. */
const IDLE = 300_000;

interface Asked {
  id: number;
  task: unknown;
}

/** What came of a task. An error crosses as what decides how it is told. */
type Reply =
  | { id: number; answer: unknown }
  | { id: number; refusal: Pick<Refusal, 'code' | 'detail' | 'more'> }
  | { id: number; error: { message: string; code: string | undefined } };

interface Waiting {
  answer(value: unknown): void;
  fail(error: unknown): void;
}

/** A thread that answers tasks one after the other, so that whoever else asks the server does not wait for them. */
export class TaskThread<Task, Answer> {
  private thread: Worker | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private last = 0;

  constructor(
    private readonly script: URL,
    private readonly data: unknown,
  ) {}

  ask(task: Task): Promise<Answer> {
    const thread = (this.thread ??= this.begin());
    const id = ++this.last;
    return new Promise<Answer>((answer, fail) => {
      this.waiting.set(id, { answer: answer as (value: unknown) => void, fail });
      thread.postMessage({ id, task } satisfies Asked);
    });
  }

  async stop(): Promise<void> {
    await this.thread?.terminate();
  }

  private begin(): Worker {
    const thread = new Worker(this.script, { workerData: this.data });
    thread.unref();
    thread.on('message', (reply: Reply) => this.settle(reply));
    let failure: unknown = new Error('the thread that worked on this has ended');
    thread.on('error', (error) => (failure = error));
    thread.on('exit', () => {
      this.thread = null;
      for (const w of this.waiting.values()) w.fail(failure);
      this.waiting.clear();
    });
    return thread;
  }

  private settle(reply: Reply): void {
    const waiting = this.waiting.get(reply.id);
    this.waiting.delete(reply.id);
    if ('answer' in reply) waiting?.answer(reply.answer);
    else if ('refusal' in reply)
      waiting?.fail(new Refusal(reply.refusal.code, reply.refusal.detail, reply.refusal.more));
    else waiting?.fail(Object.assign(new Error(reply.error.message), { code: reply.error.code }));
    const { last, thread } = this;
    if (this.waiting.size === 0)
      after(IDLE, () => {
        if (this.last === last && this.thread === thread) void thread?.terminate();
      });
  }
}

/** Answers the tasks of a {@link TaskThread}, in its thread. */
export function answerTasks<Task>(work: (task: Task) => Promise<unknown>): void {
  const port = parentPort!;
  port.on('message', ({ id, task }: Asked) => {
    work(task as Task).then(
      (answer) => port.postMessage({ id, answer } satisfies Reply),
      (error: unknown) => {
        if (error instanceof Refusal) {
          const { code, detail, more } = error;
          return port.postMessage({ id, refusal: { code, detail, more } } satisfies Reply);
        }
        const { message, code } = error as Error & { code?: string };
        return port.postMessage({ id, error: { message, code } } satisfies Reply);
      },
    );
  });
}
