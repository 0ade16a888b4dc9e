import type { BoardMark } from '../board-mark';

/** What a marked copy is made of. */
export interface CopySource {
  kind: 'pdf' | 'jpeg' | 'none';
  bytes: Uint8Array<ArrayBuffer>;
  /** Of what it is, in words: the file's name. */
  name: string;
  marks: readonly (BoardMark & { at: string })[];
}

/** A picture of words that the PDF's own letters lack, as PNG, twice as large as it is put; null: none can be made. */
export type DrawWords = (lines: string[], size: number, colour: string) => Promise<Uint8Array | null>;
