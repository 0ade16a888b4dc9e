import { Injectable, signal } from '@angular/core';
import { storableJson } from '@core/text/storable';
import { SheetClosed } from '../worker/sheet-session';
import type { Code, PointedError, Problem } from '@contract/wire/problem';

/** A failed call. `code` "offline": no answer came, so nobody knows whether it was done; operations make trying again safe. */
export class ApiProblem extends Error {
  constructor(
    readonly code: Code | 'offline',
    readonly detail: string,
    readonly now?: unknown,
    readonly errors: PointedError[] = [],
  ) {
    super(detail);
  }

  /** Worth trying again by itself. */
  get isTransient(): boolean {
    return this.code === 'offline' || this.code === 'unavailable' || this.code === 'broken';
  }
}

/** What cannot be done, in a sentence that is told as it is. */
export class Refusal extends Error {}

/** What went wrong as a sentence, whatever was thrown; none where nobody waits for the answer any more. */
export const messageOf = (error: unknown): string =>
  error instanceof SheetClosed
    ? ''
    : error instanceof ApiProblem
      ? error.detail
      : error instanceof Refusal
        ? error.message
        : `Something went wrong on this page: ${error instanceof Error ? error.message : String(error)}`;

const OFFLINE = 'The server does not answer. Check the line; what you typed is kept on this machine and tried again.';

/** The one way to the server. */
@Injectable({ providedIn: 'root' })
export class Api {
  /** The session's own token, sent with every change. */
  readonly token = signal('');
  /** Who is signed in; '' nobody. */
  readonly person = signal('');

  get<T>(path: string): Promise<T> {
    return this.send<T>('GET', path);
  }

  async send<T>(method: string, path: string, body?: unknown): Promise<T> {
    let response: Response;
    try {
      response = await fetch(`/api/v1${path}`, {
        method,
        headers: { 'content-type': 'application/json', 'x-last-tally-token': this.token() },
        signal: AbortSignal.timeout(60_000),
        ...(body === undefined ? {} : { body: storableJson(body) }),
      });
    } catch {
      throw new ApiProblem('offline', OFFLINE);
    }
    if (response.ok) return (await response.json()) as T;
    throw await problemOf(response);
  }
}

async function problemOf(response: Response): Promise<ApiProblem> {
  try {
    const p = (await response.json()) as Problem;
    return new ApiProblem(p.code, p.detail, p.now, p.errors);
  } catch {
    // An answer that is not ours, from something between: the same as no answer.
    return new ApiProblem('offline', OFFLINE);
  }
}

export { newOperation } from '@contract/wire/operation';
