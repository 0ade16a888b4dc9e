import type { DestroyRef } from '@angular/core';
import type { LedgerView } from '../view/ledger-view';

/** Tells the view how large the grid is and where it is scrolled to, for as long as the page is there. */
export function watchGrid(grid: HTMLElement, view: LedgerView, destroyed: DestroyRef, draw: () => void): void {
  const measure = (): void => view.room.set({ width: grid.clientWidth, height: grid.clientHeight });
  measure();
  const observer = new ResizeObserver(measure);
  observer.observe(grid);
  // The rows are drawn in a task of their own after the event: in one with the frame it would be a long one.
  let waiting = false;
  const channel = new MessageChannel();
  channel.port1.onmessage = () => {
    waiting = false;
    view.scroll.set({ top: grid.scrollTop, left: grid.scrollLeft });
    draw();
  };
  const onScroll = (): void => {
    if (waiting) return;
    waiting = true;
    channel.port2.postMessage(0);
  };
  grid.addEventListener('scroll', onScroll, { passive: true });
  // A scroll of the last moment must not draw a page that is gone.
  destroyed.onDestroy(() => {
    observer.disconnect();
    channel.port1.close();
  });
}
