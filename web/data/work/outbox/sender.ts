import { ApiProblem, type Api } from '../../api';
import { retryDelay } from '../../outbox/retry-delay';
import { signedInAgain } from '../../signed-in-again';

/** Milliseconds between two looks whether one has signed in again. */
const SIGNED_OUT_PAUSE = 3_000;

const SIGNED_OUT = ['not-signed-in', 'not-genuine'];

/** Whether what was sent waits here until there is a line and a session again; anything else is the server's answer. */
export const waits = (problem: ApiProblem): boolean => problem.isTransient || SIGNED_OUT.includes(problem.code);

/** Sends what waits, one after the other, until nothing does: over a dead line and another sign-in, by itself. */
export class Sender<T> {
  private sending = false;
  private failures = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** `send` throws what {@link waits}, and takes whatever else is answered. */
  constructor(
    private readonly api: Api,
    private readonly next: () => T | null | undefined,
    private readonly send: (what: T) => Promise<void>,
  ) {
    globalThis.addEventListener?.('online', () => this.soon(0));
  }

  soon(milliseconds: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.sendAll(), milliseconds);
  }

  private async sendAll(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    try {
      for (let next = this.next(); next; next = this.next()) await this.send(next);
      this.failures = 0;
    } catch (error) {
      const signedOut = error instanceof ApiProblem && SIGNED_OUT.includes(error.code);
      // Signed in again in any window, it goes on by itself.
      if (signedOut) await signedInAgain(this.api, this.api.person());
      this.soon(signedOut ? SIGNED_OUT_PAUSE : retryDelay(this.failures++));
    } finally {
      this.sending = false;
    }
  }
}
