import type * as Pdf from 'pdfjs-dist';
import type { PDFDocumentLoadingTask, PDFWorker } from 'pdfjs-dist';

type Library = typeof Pdf;
let library: Promise<Library> | undefined;
let worker: PDFWorker | undefined;

/** The reader of PDF files, fetched when the first is opened; its worker and fonts lie beside the application. */
export function pdfLibrary(): Promise<Library> {
  library ??= import('pdfjs-dist').then((pdf) => {
    pdf.GlobalWorkerOptions.workerSrc = `/pdfjs-${pdf.version}/pdf.worker.min.mjs`;
    return pdf;
  });
  library.catch(() => (library = undefined));
  return library;
}

/** Milliseconds that the reader has to open a file or to say what is on a page. */
export const PDF_PATIENCE = 20_000;

/** Ends the reader, which something keeps busy: the next file gets another. What was open in it is lost. */
export function endPdfReader(): void {
  worker?.destroy();
  worker = undefined;
}

/** Side of a picture inside a page, in pixels squared, above which it is left out. */
const MOST_PIXELS = 80_000_000;

/** Opens a PDF. Nothing that is programmed in it is run, and nothing is fetched that it names. */
export async function openPdf(bytes: Uint8Array): Promise<PDFDocumentLoadingTask> {
  const pdf = await pdfLibrary();
  const place = `/pdfjs-${pdf.version}`;
  // One worker for all files: to start another takes longer than to open most of them.
  worker ??= new pdf.PDFWorker();
  return pdf.getDocument({
    data: bytes,
    worker,
    cMapUrl: `${place}/cmaps/`,
    standardFontDataUrl: `${place}/standard_fonts/`,
    wasmUrl: `${place}/wasm/`,
    iccUrl: `${place}/iccs/`,
    // The fonts that every reader has are ours, so that it looks the same on every machine.
    useSystemFonts: false,
    isEvalSupported: false,
    enableXfa: false,
    maxImageSize: MOST_PIXELS,
    stopAtErrors: false,
    verbosity: 0,
  });
}

/** Why a PDF is not shown, in a sentence. */
export function pdfFault(error: unknown): string {
  const { name } = error as Error;
  if (name === 'PasswordException') return 'This PDF is locked with a password, which was not handed in with it.';
  if (name === 'InvalidPDFException') return 'This PDF is damaged and cannot be shown.';
  return 'This PDF cannot be shown.';
}
