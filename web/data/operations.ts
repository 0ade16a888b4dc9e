import { inject, Injectable } from '@angular/core';
import { canonical } from '@core/book/canonical';
import { StatusBar } from '../ui/layout/status-bar';
import { Api, ApiProblem, newOperation } from './api';

/** Milliseconds between tries where no answer comes; then the person is told, and decides. */
const DELAYS = [500, 1_000, 2_000, 4_000, 8_000];
/** Tries where the server says that it is broken. */
const MOST_FAULTS = 2;

const UNKNOWN =
  'No answer came, so it is not known whether this was done. Do it again when the line is up: it is done once, however often it is sent.';

/** What a page of this tab sent and has no answer to, by what was sent. It outlives a reload. */
const STORAGE = 'last-tally-operations';
/** Characters of a decision that is remembered over a reload; larger ones by this page alone. */
const LONGEST = 20_000;

/**
 * Sends what a person decides, once: the operation's id is made when they decide, and is the same over a second click,
 * a lost answer, a reload, until there is an answer.
 */
@Injectable({ providedIn: 'root' })
export class Operations {
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly unanswered = new Map<string, string>(restore());
  private readonly running = new Map<string, Promise<unknown>>();

  /** `body` without its operation. Rejects with an {@link ApiProblem}; where nobody knows what came of it, it says so. */
  submit<T>(method: string, path: string, body: object): Promise<T> {
    const key = `${this.api.person()} ${method} ${path} ${canonical(body)}`;
    const running = this.running.get(key);
    if (running) return running as Promise<T>;
    const sent = this.send<T>(key, method, path, body).finally(() => this.running.delete(key));
    this.running.set(key, sent);
    return sent;
  }

  private async send<T>(key: string, method: string, path: string, body: object): Promise<T> {
    const operation = this.unanswered.get(key) ?? newOperation();
    this.remember(key, operation);
    let faults = 0;
    for (let tries = 0; ; tries++) {
      try {
        const answer = await this.api.send<T>(method, path, { operation, ...body });
        this.remember(key, null);
        return answer;
      } catch (error) {
        const problem = error instanceof ApiProblem ? error : new ApiProblem('offline', String(error));
        if (!problem.isTransient) {
          // Signed out meanwhile: whether it was done before that, the same operation will tell.
          if (problem.code !== 'not-signed-in') this.remember(key, null);
          throw problem;
        }
        if (problem.code === 'broken' && ++faults >= MOST_FAULTS) throw problem;
        if (tries === 0) this.statusBar.announce('No answer yet: it is sent again by itself.', 'trouble');
        const delay = DELAYS[tries];
        if (delay === undefined) throw new ApiProblem(problem.code, UNKNOWN);
        await new Promise((done) => setTimeout(done, delay * (0.8 + 0.4 * Math.random())));
      }
    }
  }

  private remember(key: string, operation: string | null): void {
    if (operation === null) this.unanswered.delete(key);
    else this.unanswered.set(key, operation);
    const short = [...this.unanswered].filter(([k]) => k.length <= LONGEST).slice(-20);
    try {
      if (short.length === 0) sessionStorage.removeItem(STORAGE);
      else sessionStorage.setItem(STORAGE, JSON.stringify(short));
    } catch {
      // A browser that keeps nothing: this page still knows it.
    }
  }
}

function restore(): [string, string][] {
  try {
    const stored = JSON.parse(sessionStorage.getItem(STORAGE) ?? '[]') as unknown;
    return Array.isArray(stored) ? (stored as [string, string][]) : [];
  } catch {
    return [];
  }
}
