import { InjectionToken } from '@angular/core';
import { wrap } from 'comlink';
import type { OpenedSheet, SheetHost, SheetWorker } from './protocol';
import { SheetClosed, sheetSessions } from './sheet-session';

let started: SheetWorker | undefined;
const start = (): SheetWorker =>
  (started ??= sheetSessions(
    wrap<SheetHost>(new Worker(new URL('./sheet.worker', import.meta.url), { type: 'module' })) as unknown as SheetHost,
  ));

let early: { book: string; opened: Promise<OpenedSheet> } | null = null;

/** Set while this tab is signed in as somebody who may open books: nobody else's browser asks for one too early. */
const MAY = 'last-tally-opens-books';

/** Begins to open the book that the address names while the application is still starting. */
export function openEarly(path: string, worker: () => SheetWorker = start): void {
  // Ids of books need no escapes; an address with any is somebody's slip, and the page will say so.
  const book = /^\/book\/([A-Za-z0-9._-]+)(\/|$)/.exec(path)?.[1];
  if (book === undefined || sessionStorage.getItem(MAY) === null) return;
  early = { book, opened: worker().open(book) };
  // A sign-in may have ended: whoever then asks for the book asks anew.
  early.opened.catch(() => undefined);
}

export function forgetEarly(): void {
  sessionStorage.removeItem(MAY);
}

/** The book that was opened early, once; where that failed, or it was another, it is opened now. */
export function openSheet(worker: SheetWorker, book: string): Promise<OpenedSheet> {
  const ready = early;
  early = null;
  sessionStorage.setItem(MAY, '');
  if (ready?.book !== book) return worker.open(book);
  return ready.opened.catch((error: unknown) => {
    // Another was opened meanwhile: it stays the one that is open.
    if (error instanceof SheetClosed) throw error;
    return worker.open(book);
  });
}

/** Starts the calculation worker. Behind a token, so that tests can put another in its place. */
export const SHEET_WORKER = new InjectionToken<() => SheetWorker>('the calculation worker', {
  providedIn: 'root',
  factory: () => start,
});
