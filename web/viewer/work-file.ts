import type { SubmissionFile } from '@contract/work/submissions';
import type { DocumentKind } from './documents/document.worker';

/** A file of somebody's work, and where its bytes are fetched. */
export interface WorkFile {
  /** Of one submission and one file of it: what is shown of it never stands under another. */
  key: string;
  id: string;
  name: string;
  bytes: number;
  mediaType: string | null;
  sha256: string;
  /** Where the original lies; with `?ahead` it is fetched without the trace that somebody read it. */
  address: string;
}

/** As what a file is shown. */
export type ShownKind = 'pdf' | 'picture' | 'heic' | 'text' | 'sound' | 'film' | DocumentKind;

/** Bytes above which a file is not taken into the page's memory. */
const MOST_BYTES = 120_000_000;
/** Bytes of a text above which it is no text to be read through. */
const MOST_TEXT = 3_000_000;

const SHOWN: Record<string, ShownKind> = {
  'application/pdf': 'pdf',
  'image/jpeg': 'picture',
  'image/png': 'picture',
  'image/webp': 'picture',
  'image/gif': 'picture',
  'image/heic': 'heic',
  'image/heif': 'heic',
  'application/vnd.openxmlformats-officedocument.wordprocessingml.document': 'docx',
  'application/vnd.oasis.opendocument.text': 'odt',
  'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet': 'xlsx',
  'application/vnd.oasis.opendocument.spreadsheet': 'ods',
  'text/csv': 'csv',
};
const SOUND = /^audio\//;
const FILM = /^video\//;
const TEXT = /^text\//;

/** As what a file is shown by its content, or why it is not, in a sentence. */
export function shownAs(file: Pick<WorkFile, 'mediaType' | 'bytes' | 'name'>): ShownKind | { why: string } {
  const type = file.mediaType ?? '';
  // Of plain text only the name says that it is a table.
  const table = type === 'text/plain' && /\.(csv|tsv)$/i.test(file.name) ? 'csv' : undefined;
  const kind =
    table ??
    SHOWN[type] ??
    (SOUND.test(type) ? 'sound' : FILM.test(type) ? 'film' : TEXT.test(type) ? 'text' : undefined);
  if (file.bytes === 0) return { why: 'This file is empty.' };
  if (kind === undefined) return { why: 'Files of this kind are not shown here. The original is as it was handed in.' };
  if (file.bytes > MOST_BYTES || (kind === 'text' && file.bytes > MOST_TEXT))
    return { why: 'This file is too large to be shown here. The original is as it was handed in.' };
  return kind;
}

/** What a file of a submission is for the viewer. */
export const workFile = (book: string, submission: string, f: SubmissionFile): WorkFile => ({
  ...{
    key: `${submission}/${f.id}`,
    id: f.id,
    name: f.name,
    bytes: f.bytes,
    mediaType: f.mediaType,
    sha256: f.sha256 ?? '',
  },
  address: `/api/v1/books/${encodeURIComponent(book)}/submissions/${submission}/files/${f.id}`,
});
