import { InjectionToken } from '@angular/core';
import { wrap, type Remote } from 'comlink';
import type { SheetWorker } from './protocol';

/** Starts the calculation worker. Behind a token, so that tests can put another in its place. */
export const SHEET_WORKER = new InjectionToken<() => SheetWorker>('the calculation worker', {
  providedIn: 'root',
  factory: () => {
    let started: Remote<SheetWorker> | undefined;
    return () => {
      started ??= wrap<SheetWorker>(new Worker(new URL('./sheet.worker', import.meta.url), { type: 'module' }));
      return started as unknown as SheetWorker;
    };
  },
});
