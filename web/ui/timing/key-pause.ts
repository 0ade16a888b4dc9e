import { DOCUMENT, inject, Injectable } from '@angular/core';

/**
 * Knows when a key was last pressed anywhere in the page. What is only looked at when the hands rest is drawn then: a
 * frame drawn between two keys makes the frame of the second wait for the next tick of the display (decision 014).
 */
@Injectable({ providedIn: 'root' })
export class KeyPause {
  private pressedAt = -Infinity;

  constructor() {
    // Before anything in the page: a part that keeps a key to itself keeps it from nobody here.
    inject(DOCUMENT).addEventListener('keydown', () => (this.pressedAt = performance.now()), true);
  }

  /** Does `work` once `ms` have passed since now and since the last key; what is given back calls it off. */
  after(ms: number, work: () => void): () => void {
    let timer: ReturnType<typeof setTimeout>;
    const wait = (left: number): void => {
      timer = setTimeout(() => {
        const since = performance.now() - this.pressedAt;
        if (since >= ms) work();
        else wait(ms - since);
      }, left);
    };
    wait(ms);
    return () => clearTimeout(timer);
  }
}
