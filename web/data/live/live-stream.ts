import { inject, Injectable } from '@angular/core';
import { Subject } from 'rxjs';
import { newOperation } from '@contract/wire/operation';
import type { LiveEvent } from '@contract/presence';
import { Api } from '../api';
import { EventLine } from './event-line';

/** Milliseconds between two tries for a stream: they grow. */
const FIRST_PAUSE = 1_000;
const LONGEST_PAUSE = 30_000;
/** Milliseconds between two askings who is there still: a window that was killed says no goodbye. */
const ASK_EVERY = 20_000;

/** What one window follows: a book, from after a line of its journal on. */
interface Following {
  book: string;
  after: number;
}

/** What windows tell each other. */
type Word =
  | { kind: 'follows'; window: string; following: Following | null }
  | { kind: 'who-is-there' }
  | { kind: 'event'; event: LiveEvent };

/**
 * The stream of live changes. All windows of one person share it where the browser has locks between windows: the one
 * that holds the lock holds the stream and hands on what it tells. Elsewhere (plain http, old browsers) each has its own.
 */
@Injectable({ providedIn: 'root' })
export class LiveStream {
  private readonly api = inject(Api);
  private readonly heard = new Subject<LiveEvent>();
  readonly events = this.heard.asObservable();
  private readonly window = newOperation();
  private following: Following | null = null;
  private channel: BroadcastChannel | null = null;
  /** Lets go of the lock, or of the wait for it. */
  private release: (() => void) | null = null;
  private holds = false;
  /** What every window follows, by window; those in `silent` have not answered the last asking. */
  private readonly windows = new Map<string, Following>();
  private silent = new Set<string>();
  private readonly line = new EventLine(
    { address: () => this.address(), heard: (data) => this.hear(JSON.parse(data) as LiveEvent) },
    FIRST_PAUSE,
    LONGEST_PAUSE,
  );
  private askTimer: ReturnType<typeof setInterval> | undefined;

  /** Follows this book and no other, from after a line on. Of the same book: the line up to which it is known by now. */
  follow(book: string, after: number): void {
    if (this.following?.book === book) {
      this.following.after = Math.max(this.following.after, after);
      return;
    }
    this.following = { book, after };
    if (this.release) this.tellFollowing();
    else this.join();
  }

  leave(): void {
    if (!this.following) return;
    this.following = null;
    this.tellFollowing();
    this.part();
  }

  private join(): void {
    const name = `last-tally-live-${this.api.person()}`;
    const locks = globalThis.navigator?.locks as LockManager | undefined;
    if (!locks || typeof BroadcastChannel === 'undefined') {
      this.release = () => undefined;
      return this.lead();
    }
    this.channel = new BroadcastChannel(name);
    this.channel.onmessage = (message) => this.hearWord(message.data as Word);
    const ended = new AbortController();
    let done: () => void = () => ended.abort();
    this.release = () => done();
    locks
      .request(name, { signal: ended.signal }, () => {
        if (ended.signal.aborted) return undefined;
        const held = new Promise<void>((resolve) => (done = resolve));
        this.lead();
        return held;
      })
      .catch(() => {
        // A page that may hold no locks has a stream of its own.
        if (!ended.signal.aborted && !this.holds) this.lead();
      });
    this.tellFollowing();
    globalThis.addEventListener('pagehide', this.onPageHide);
  }

  private part(): void {
    globalThis.removeEventListener('pagehide', this.onPageHide);
    clearInterval(this.askTimer);
    this.line.close();
    this.holds = false;
    this.windows.clear();
    this.release?.();
    this.release = null;
    this.channel?.close();
    this.channel = null;
  }

  private readonly onPageHide = (): void => this.leave();

  /** Holds the stream from now on, and asks the other windows what they follow. */
  private lead(): void {
    this.holds = true;
    if (this.following) this.windows.set(this.window, this.following);
    this.ask();
    this.askTimer = setInterval(() => this.ask(), ASK_EVERY);
    this.line.open();
  }

  private ask(): void {
    let gone = false;
    for (const window of this.silent) gone = this.windows.delete(window) || gone;
    if (gone) this.line.open();
    this.silent = new Set([...this.windows.keys()].filter((window) => window !== this.window));
    this.say({ kind: 'who-is-there' });
  }

  private say(word: Word): void {
    this.channel?.postMessage(word);
  }

  private tellFollowing(): void {
    const { window, following } = this;
    this.say({ kind: 'follows', window, following });
    if (this.holds) this.note(window, following);
  }

  private hearWord(word: Word): void {
    if (word.kind === 'event') {
      if (!this.holds) this.pass(word.event);
    } else if (word.kind === 'who-is-there') {
      if (!this.holds) this.tellFollowing();
    } else if (this.holds) this.note(word.window, word.following);
  }

  private note(window: string, following: Following | null): void {
    this.silent.delete(window);
    const before = this.windows.get(window);
    if (following) this.windows.set(window, following);
    else this.windows.delete(window);
    if (before?.book !== following?.book) this.line.open();
  }

  /** Where what is followed now is told, from the last line that each window knows; null: nothing is followed. */
  private address(): string | null {
    const books = new Map<string, number>();
    for (const { book, after } of this.windows.values()) books.set(book, Math.min(after, books.get(book) ?? Infinity));
    const query = [...books].map(([book, after]) => `book=${encodeURIComponent(book)}:${after}`).join('&');
    return query === '' ? null : `/api/v1/events?${query}`;
  }

  private hear(event: LiveEvent): void {
    this.say({ kind: 'event', event });
    this.pass(event);
  }

  private pass(event: LiveEvent): void {
    const advance = (one: Following): void => {
      if (one.book === event.book && 'seq' in event) one.after = Math.max(one.after, event.seq);
    };
    for (const one of this.windows.values()) advance(one);
    if (this.following?.book !== event.book) return;
    advance(this.following);
    if (event.kind === 'gone') this.leave();
    this.heard.next(event);
  }
}
