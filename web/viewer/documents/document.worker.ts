/// <reference lib="webworker" />
import mammoth from 'mammoth/mammoth.browser.min.js';
import papa from 'papaparse';
import { readText } from '../read-text';
import { MOST, type ReadDocument, type ReadSheets } from './model';
import { readOdt } from './read-odt';
import { readOds, readXlsx } from './read-sheets';
import { lookThrough } from './unpack';

export type DocumentKind = 'docx' | 'odt' | 'xlsx' | 'ods' | 'csv';
/** A DOCX comes as markup, which the page takes apart: a worker has no reader of it. */
export type WorkerAnswer = ReadDocument | ReadSheets | { kind: 'markup'; html: string } | { kind: 'fault' };

/** A title is a heading too. Nothing outside of the file is looked at. */
const OPTIONS = { externalFileAccess: false, styleMap: ['p.Title => h1:fresh', "p[style-name='Title'] => h1:fresh"] };

async function read(bytes: Uint8Array<ArrayBuffer>, kind: DocumentKind): Promise<WorkerAnswer> {
  switch (kind) {
    case 'odt':
      return readOdt(bytes);
    case 'ods':
      return readOds(bytes);
    case 'xlsx':
      return readXlsx(bytes);
    case 'csv': {
      const { data } = papa.parse<string[]>(readText(bytes), { skipEmptyLines: true, preview: MOST.rows + 1 });
      const rows = data.slice(0, MOST.rows).map((r) => r.slice(0, MOST.columns));
      const cut = data.length > MOST.rows || data.some((r) => r.length > MOST.columns);
      return { kind: 'sheets', sheets: [{ name: '', rows, cut }], cut: false };
    }
    case 'docx': {
      // Looked through first: what would not fit is not opened.
      lookThrough(bytes);
      const { value } = await mammoth.convertToHtml({ arrayBuffer: bytes.buffer }, OPTIONS);
      return { kind: 'markup', html: value };
    }
  }
}

addEventListener('message', ({ data }: MessageEvent<{ bytes: Uint8Array<ArrayBuffer>; kind: DocumentKind }>) => {
  read(data.bytes, data.kind).then(
    (answer) => postMessage(answer),
    () => postMessage({ kind: 'fault' }),
  );
});
