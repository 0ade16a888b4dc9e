/** Words that look alike. */
export interface Run {
  text: string;
  bold?: true;
  italic?: true;
  underlined?: true;
  raised?: true;
  lowered?: true;
  /** An address of the web. */
  link?: string;
}

/** A part of a document that stands by itself. `level`: 1 to 6 of a heading, 0 none. */
export type Block =
  | { kind: 'text'; level: number; runs: Run[]; item?: { depth: number; marker: string } }
  | { kind: 'table'; rows: Block[][][] }
  | { kind: 'picture'; bytes: Uint8Array<ArrayBuffer>; type: string; words: string };

/** What can be read of a word-processor document: its words and pictures, not its layout. */
export interface ReadDocument {
  kind: 'document';
  blocks: Block[];
  /** Notes at the foot or the end, in the order of their numbers. */
  notes: Run[][];
  /** More is in it than is shown. */
  cut: boolean;
}

/** What can be read of a spreadsheet: values, not formulas and not its layout. */
export interface ReadSheets {
  kind: 'sheets';
  sheets: { name: string; rows: string[][]; cut: boolean }[];
  /** There are more sheets than are shown. */
  cut: boolean;
}

/** Limits of what is read; beyond them it is cut and that is said. */
export const MOST = {
  blocks: 20_000,
  characters: 2_000_000,
  rows: 2_000,
  columns: 200,
  sheets: 60,
  pictures: 40_000_000,
};
