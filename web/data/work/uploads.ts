import { inject, Injectable, signal } from '@angular/core';
import { Upload } from 'tus-js-client';
import { Api } from '../api';

/** How far a file is on its way: bytes that are there, and whether it waits for the line. */
export interface Progress {
  sent: number;
  waits: boolean;
  /** Why it goes no further, where it does not by itself. */
  failure: string;
}

/** Milliseconds between tries while the line is down; the last of them again and again. */
const PAUSES = [500, 1_000, 2_000, 4_000, 8_000, 15_000];

/**
 * Files on their way to the server, each in pieces that go on where they were when the line comes back (the tus
 * protocol). Two at a time: a phone's line carries no more.
 */
@Injectable()
export class Uploads {
  private readonly api = inject(Api);
  private readonly running = new Map<string, Upload>();
  private readonly queue: { id: string; file: Blob; upload: string; done: () => void; failed: () => void }[] = [];
  private active = 0;
  readonly progress = signal<ReadonlyMap<string, Progress>>(new Map());

  /** Sends a file to the upload that waits for it; `done` once all of it is there, `failed` where it goes no further by itself. */
  send(id: string, file: Blob, upload: string, done: () => void, failed: () => void = () => undefined): void {
    this.note(id, { sent: 0, waits: false, failure: '' });
    this.queue.push({ id, file, upload, done, failed });
    this.next();
  }

  /** Whether this page has the file and sends it, now or when its turn comes. */
  has(id: string): boolean {
    return this.running.has(id) || this.queue.some((q) => q.id === id);
  }

  stop(id: string): void {
    const at = this.queue.findIndex((q) => q.id === id);
    if (at >= 0) this.queue.splice(at, 1);
    // What is there stays there; the server lets go of it by itself.
    void this.running.get(id)?.abort();
    if (this.running.delete(id)) this.ended();
    this.forget(id);
  }

  stopAll(): void {
    this.queue.length = 0;
    for (const id of [...this.running.keys()]) this.stop(id);
  }

  private next(): void {
    while (this.active < 2 && this.queue.length > 0) this.begin(this.queue.shift()!);
  }

  private ended(): void {
    this.active--;
    this.next();
  }

  private begin({ id, file, upload, done, failed }: (typeof this.queue)[number]): void {
    this.active++;
    let tries = 0;
    const start = (): void => {
      const sending = new Upload(file, {
        uploadUrl: `/api/v1/uploads/${encodeURIComponent(upload)}`,
        headers: { 'x-last-tally-token': this.api.token() },
        storeFingerprintForResuming: false,
        // Tried again here, for as long as the page is open.
        retryDelays: null,
        onProgress: (sent) => {
          tries = 0;
          this.note(id, { sent, waits: false, failure: '' });
        },
        onSuccess: () => {
          this.running.delete(id);
          this.note(id, { sent: file.size, waits: false, failure: '' });
          done();
          this.ended();
        },
        onError: (error) => {
          if (!this.running.has(id)) return;
          const status = 'originalResponse' in error ? (error.originalResponse?.getStatus() ?? 0) : 0;
          // Gone, or not this person's any more: trying again would not help. 409: it has gone on elsewhere, or further.
          if (status >= 400 && status < 500 && status !== 409 && status !== 423 && status !== 429) {
            this.running.delete(id);
            const failure = status === 401 ? 'Sign in again, then choose it once more.' : 'It could not be taken in. Take it out and choose it again.'; // prettier-ignore
            this.note(id, { ...this.of(id), failure });
            failed();
            return this.ended();
          }
          this.note(id, { ...this.of(id), waits: true });
          const pause = PAUSES[Math.min(tries++, PAUSES.length - 1)]!;
          setTimeout(() => this.running.has(id) && start(), pause * (0.8 + 0.4 * Math.random()));
        },
      });
      this.running.set(id, sending);
      sending.start();
    };
    start();
  }

  private of(id: string): Progress {
    return this.progress().get(id) ?? { sent: 0, waits: false, failure: '' };
  }

  private note(id: string, now: Progress): void {
    this.progress.update((all) => new Map(all).set(id, now));
  }

  private forget(id: string): void {
    this.progress.update((all) => {
      const rest = new Map(all);
      rest.delete(id);
      return rest;
    });
  }
}
