import { DestroyRef, inject, Injectable } from '@angular/core';
import { Subject } from 'rxjs';
import type { OwnEvent } from '@contract/presence';

/** Milliseconds between two tries for the stream: they grow. */
const FIRST_PAUSE = 2_000;
const LONGEST_PAUSE = 60_000;

/**
 * What is released to the student who is signed in, or withdrawn, as it happens. Only a page that is seen holds a stream;
 * one that comes back into sight says so, since it may have missed something. For one page.
 */
@Injectable()
export class OwnEvents {
  private readonly heard = new Subject<OwnEvent>();
  readonly events = this.heard.asObservable();
  /** The page is in sight again, or the line is back: what it shows may be old. */
  private readonly back = new Subject<void>();
  readonly resumed = this.back.asObservable();
  private source: EventSource | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private pause = FIRST_PAUSE;
  private missed = false;

  constructor() {
    const seen = (): void => {
      if (document.visibilityState === 'hidden') {
        this.close();
        this.missed = true;
      } else if (!this.source) this.open();
    };
    document.addEventListener('visibilitychange', seen);
    inject(DestroyRef).onDestroy(() => {
      document.removeEventListener('visibilitychange', seen);
      this.close();
    });
    if (document.visibilityState !== 'hidden') this.open();
  }

  private open(): void {
    clearTimeout(this.timer);
    if (typeof EventSource === 'undefined') return;
    const source = new EventSource('/api/v1/my/events');
    this.source = source;
    source.onopen = () => {
      this.pause = FIRST_PAUSE;
      if (this.missed) this.back.next();
      this.missed = false;
    };
    source.onmessage = (message) => this.heard.next(JSON.parse(message.data as string) as OwnEvent);
    source.onerror = () => {
      if (this.source !== source) return;
      this.close();
      this.missed = true;
      this.timer = setTimeout(() => this.open(), this.pause * (0.75 + Math.random() / 2));
      this.pause = Math.min(2 * this.pause, LONGEST_PAUSE);
    };
  }

  private close(): void {
    clearTimeout(this.timer);
    this.source?.close();
    this.source = null;
  }
}
