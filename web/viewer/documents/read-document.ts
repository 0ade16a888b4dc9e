import { InjectionToken } from '@angular/core';
import type { DocumentKind, WorkerAnswer } from './document.worker';
import { fromMarkup } from './from-markup';
import type { ReadDocument, ReadSheets } from './model';

/** Milliseconds that reading may take. */
const PATIENCE = 20_000;

/** Reads a document or spreadsheet beside the page; refuses with a sentence. */
export type OpenDocument = (bytes: Uint8Array<ArrayBuffer>, kind: DocumentKind) => Promise<ReadDocument | ReadSheets>;

export const OPEN_DOCUMENT = new InjectionToken<OpenDocument>('reads documents', {
  providedIn: 'root',
  factory: () => (bytes, kind) =>
    new Promise((done, failed) => {
      // A worker of its own, which ends with it: whatever a file makes of it is over then.
      const worker = new Worker(new URL('./document.worker', import.meta.url), { type: 'module' });
      const end = (words: string): void => {
        clearTimeout(timer);
        worker.terminate();
        failed(new Error(words));
      };
      const timer = setTimeout(() => end('This file takes too long to be shown.'), PATIENCE);
      worker.onerror = () => end('This file is damaged and cannot be shown.');
      worker.onmessage = ({ data }: MessageEvent<WorkerAnswer>) => {
        if (data.kind === 'fault') return end('This file is damaged and cannot be shown.');
        clearTimeout(timer);
        worker.terminate();
        done(data.kind === 'markup' ? fromMarkup(data.html) : data);
      };
      worker.postMessage({ bytes, kind }, [bytes.buffer]);
    }),
});
