import { inject, Injectable } from '@angular/core';
import { LRUCache } from 'lru-cache';
import type { PDFDocumentProxy } from 'pdfjs-dist';
import { DECODE_PICTURE } from './decode-picture';
import { OPEN_DOCUMENT } from './documents/read-document';
import type { ReadDocument, ReadSheets } from './documents/model';
import { FileBytes } from './file-bytes';
import { endPdfReader, openPdf, PDF_PATIENCE, pdfFault } from './pdf-library';
import { shownAs, type WorkFile } from './work-file';

/** A file as it can be drawn at once. */
export type ReadyFile =
  | { as: 'pdf'; document: PDFDocumentProxy; close(): void }
  | { as: 'picture'; picture: ImageBitmap; close(): void }
  | { as: 'document'; content: ReadDocument | ReadSheets }
  | { as: 'bytes'; bytes: Uint8Array<ArrayBuffer> };

/** Files that are kept ready: the one that is shown, those before it and those that come next. */
const KEPT = 5;

/** Files of work, fetched and decoded; asked for ahead they are ready when they are wanted. What goes gives its memory back. */
@Injectable({ providedIn: 'root' })
export class ReadyFiles {
  private readonly files = inject(FileBytes);
  private readonly decode = inject(DECODE_PICTURE);
  private readonly read = inject(OPEN_DOCUMENT);
  private readonly ready = new LRUCache<string, Promise<ReadyFile>>({
    max: KEPT,
    dispose: (file) => {
      file.then(
        (f) => 'close' in f && f.close(),
        // Whoever asked for it has heard why.
        () => undefined,
      );
    },
  });

  /** Refuses with a sentence. */
  of(file: WorkFile): Promise<ReadyFile> {
    const known = this.ready.get(file.key);
    if (known) return known;
    const made = this.make(file);
    this.ready.set(file.key, made);
    // What failed is tried anew the next time.
    made.catch(() => this.ready.peek(file.key) === made && this.ready.delete(file.key));
    return made;
  }

  /** Something keeps the reader of PDF files busy: it is ended, and what was open in it is opened anew when it is wanted. */
  endPdf(): void {
    endPdfReader();
    this.ready.clear();
  }

  /** Makes it ready where it is not; nobody waits for it. */
  ahead(file: WorkFile): void {
    if (typeof shownAs(file) !== 'string') return;
    this.of(file)
      .then((f) => (f.as === 'pdf' ? drawAhead(f.document) : undefined))
      .catch(() => undefined);
  }

  private async make(file: WorkFile): Promise<ReadyFile> {
    const kind = shownAs(file);
    if (typeof kind !== 'string') throw new Error(kind.why);
    const bytes = await this.files.of(file);
    switch (kind) {
      case 'pdf':
        return this.openAsPdf(bytes);
      case 'picture':
      case 'heic': {
        const picture = await this.decode(bytes, kind === 'heic');
        return { as: 'picture', picture, close: () => picture.close() };
      }
      case 'docx':
      case 'odt':
      case 'xlsx':
      case 'ods':
      case 'csv':
        return { as: 'document', content: await this.read(bytes, kind) };
      default:
        return { as: 'bytes', bytes };
    }
  }

  private async openAsPdf(bytes: Uint8Array): Promise<ReadyFile> {
    const task = await openPdf(bytes);
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<never>((_, failed) => {
      timer = setTimeout(() => {
        this.endPdf();
        failed(new Error('This PDF takes too long to be shown.'));
      }, PDF_PATIENCE);
    });
    try {
      const document = await Promise.race([
        late,
        task.promise.catch((error: unknown) => {
          throw new Error(pdfFault(error), { cause: error });
        }),
      ]);
      // Its first page is what is wanted first.
      await Promise.race([late, document.getPage(1)]);
      return { as: 'pdf', document, close: () => void task.destroy().catch(() => undefined) };
    } catch (error) {
      task.destroy().catch(() => undefined);
      throw error;
    } finally {
      clearTimeout(timer);
    }
  }
}

/** How small the first page is drawn ahead: what it needs is then there, its fonts and what is to be drawn. */
const SMALL = 0.2;

async function drawAhead(document: PDFDocumentProxy): Promise<void> {
  const page = await document.getPage(1);
  const viewport = page.getViewport({ scale: SMALL });
  const canvas = globalThis.document.createElement('canvas');
  canvas.width = Math.max(1, Math.floor(viewport.width));
  canvas.height = Math.max(1, Math.floor(viewport.height));
  await page.render({ canvas, viewport }).promise;
}
