import { InjectionToken } from '@angular/core';
import type { Line } from '@core/working/sentences';
import type { NeedsQuestion } from './needs';

export type FindNeeds = (question: NeedsQuestion) => Promise<Line[]>;

/** Works out beside the page what a letter would need. */
export const FIND_NEEDS = new InjectionToken<FindNeeds>('what a letter would need', {
  providedIn: 'root',
  factory: () => (question) =>
    new Promise((done, failed) => {
      const worker = new Worker(new URL('./needs.worker', import.meta.url), { type: 'module' });
      worker.onmessage = ({ data }: MessageEvent<Line[]>) => {
        worker.terminate();
        done(data);
      };
      worker.onerror = (event) => {
        worker.terminate();
        failed(new Error(event.message || 'It could not be worked out.'));
      };
      worker.postMessage(question);
    }),
});
