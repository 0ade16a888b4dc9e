import { inject, Injectable, signal } from '@angular/core';
import type { Trial } from '@core/proposal/compare';
import type { Proposal } from '@core/proposal/proposal';
import { messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import type { Draft } from '../draft';
import { causeWords } from '../words/cause-words';
import type { Said } from '../words/warnings';

/** Milliseconds that a trial stands before it is asked who is moved by what. */
const CAUSES_AFTER = 350;

/** What is to be worked out: the rules as they would be, as the worker takes them and as the page says them. */
interface Asked {
  wish: Proposal;
  draft: Draft;
}

/** Works trials out, one at a time: what is asked meanwhile comes next, and nothing between. */
@Injectable()
export class TrialRun {
  private readonly store = inject(BookStore);
  readonly trial = signal<Trial | null>(null);
  readonly problems = signal<Said[]>([]);
  readonly warned = signal<Said[]>([]);
  /** Student id → what moves them, once it is known. */
  readonly why = signal<Record<string, string>>({});
  /** Milliseconds from the last change of a word to the trial's answer. */
  readonly took = signal(0);
  readonly failure = signal('');
  private asked: Asked | null = null;
  private askedAt = 0;
  private running = false;
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** Null: nothing is tried any more. */
  ask(asked: Asked | null): void {
    clearTimeout(this.timer);
    this.asked = asked;
    this.askedAt = performance.now();
    if (asked === null) this.clear();
    if (!this.running) void this.work();
  }

  private clear(): void {
    this.trial.set(null);
    this.problems.set([]);
    this.why.set({});
  }

  private async work(): Promise<void> {
    this.running = true;
    try {
      for (let done: Asked | null = null; this.asked !== null && this.asked !== done;) {
        done = this.asked;
        await this.workOut(done);
      }
    } finally {
      this.running = false;
    }
  }

  private async workOut(asked: Asked): Promise<void> {
    try {
      const { trial, problems } = await this.store.worker().trial(asked.wish);
      if (this.asked !== asked) return;
      this.took.set(Math.max(1, Math.round(performance.now() - this.askedAt)));
      this.trial.set(problems.length === 0 ? trial : null);
      this.problems.set(problems);
      this.why.set({});
      if (problems.length > 0) return;
      if (trial.movers.length > 0) this.timer = setTimeout(() => void this.askWhy(asked), CAUSES_AFTER);
      // What is to know of the rules as they would be comes right behind the trial.
      void this.askWarnings(asked);
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  private async askWarnings(asked: Asked): Promise<void> {
    try {
      const warned = await this.store.worker().warnings(asked.wish);
      if (this.asked === asked) this.warned.set(warned);
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  private async askWhy(asked: Asked): Promise<void> {
    try {
      const causes = await this.store.worker().causes(asked.wish);
      if (this.asked !== asked) return;
      this.why.set(Object.fromEntries(Object.entries(causes).map(([id, d]) => [id, causeWords(asked.draft, d)])));
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }
}
