import { parentPort, Worker, workerData } from 'node:worker_threads';

/** Threads that were started together. */
export interface Threads {
  /** When the last has ended; rejects with what ended one of them. */
  done: Promise<void>;
  stop(): Promise<unknown>;
}

/** Starts `count` threads of a script, each with the same data, and with a small young generation: they work in bulk. */
export function startThreads(script: URL, count: number, data: unknown): Threads {
  const threads = Array.from(
    { length: count },
    () => new Worker(script, { workerData: data, resourceLimits: { maxYoungGenerationSizeMb: 64 } }),
  );
  const ends = threads.map(
    (thread) =>
      new Promise<void>((ended, failed) => {
        thread.on('error', failed);
        thread.on('exit', () => ended());
      }),
  );
  return {
    // Only when none works any more: another set of them is begun then at the earliest.
    done: Promise.allSettled(ends).then((all) => {
      for (const end of all) if (end.status === 'rejected') throw end.reason;
    }),
    stop: () => Promise.all(threads.map((thread) => thread.terminate())),
  };
}

/** What this thread was started with. */
export const threadData = <T>(): T => workerData as T;

/** What a thread is told when it is to end what it is at and go. */
export const END = 'end';

export const whenAskedToEnd = (end: () => void): void => void parentPort!.once('message', end);
