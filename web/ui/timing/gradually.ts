import { effect, signal, untracked, type Signal } from '@angular/core';

/** Milliseconds between two steps: a frame is drawn between them, and keys are heard. */
const PAUSE = 24;

/**
 * How many of a list are drawn: none at first, then `step` more at a time up to all, so that a long list never holds the
 * page up. Fewer than before: at once. To be called where a page is made.
 */
export function gradually(total: () => number, step: number): Signal<number> {
  const drawn = signal(0);
  effect((onCleanup) => {
    const most = total();
    const now = drawn();
    if (now >= most) return untracked(() => drawn.set(most));
    const timer = setTimeout(() => drawn.set(Math.min(most, now + step)), PAUSE);
    onCleanup(() => clearTimeout(timer));
  });
  return drawn.asReadonly();
}
