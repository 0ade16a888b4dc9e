import { DestroyRef, inject, Injectable } from '@angular/core';
import { Subject } from 'rxjs';
import type { OwnEvent } from '@contract/presence';
import { EventLine } from './event-line';

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
  private missed = false;
  private readonly line = new EventLine(
    {
      address: () => '/api/v1/my/events',
      heard: (data) => this.heard.next(JSON.parse(data) as OwnEvent),
      opened: () => {
        if (this.missed) this.back.next();
        this.missed = false;
      },
      broken: () => (this.missed = true),
    },
    FIRST_PAUSE,
    LONGEST_PAUSE,
  );

  constructor() {
    const seen = (): void => {
      if (document.visibilityState === 'hidden') {
        this.line.close();
        this.missed = true;
      } else if (!this.line.isOpen) this.line.open();
    };
    document.addEventListener('visibilitychange', seen);
    inject(DestroyRef).onDestroy(() => {
      document.removeEventListener('visibilitychange', seen);
      this.line.close();
    });
    if (document.visibilityState !== 'hidden') this.line.open();
  }
}
