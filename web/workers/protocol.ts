import { STATE_NAMES } from '@core/calculation/cells';
import type { Standing } from '@core/estimate/standings';
import type { CellChange, EntryContent, RulesPart } from '@core/book/change';
import type { Preview, Columns } from '@core/intake/reconcile';
import type { RosterStudent } from '@core/intake/match';
import type { Table } from '@core/intake/table';
import type { Trial } from '@core/trial/compare';
import type { Line } from '@core/working/sentences';

/** What a cell's `state` number means. */
export const STATES = STATE_NAMES;

/** Bits of a cell's flags. */
export const FLAG = {
  dropped: 1,
  /** Students see it as it is. */
  released: 2,
  /** Students see an earlier form of it. */
  changed: 4,
  ownDate: 8,
  /** Said to be missing by hand. */
  byHand: 16,
  /** A new attempt waits over the score. */
  again: 32,
  curved: 64,
} as const;

/**
 * Columns of cells, one beside the other; cell (student s, item i) stands at s × items + i. `counts` and `taken` are in
 * hundredths of a point, `marked` in ten-thousandths; NaN where there is none. `due`: a student's own date, or NaN.
 */
export interface CellColumns {
  state: Uint8Array;
  flags: Uint8Array;
  counts: Float64Array;
  marked: Float64Array;
  taken: Float64Array;
  due: Float64Array;
  version: Int32Array;
}

export interface OpenedSheet {
  seq: number;
  students: string[];
  items: string[];
  cells: CellColumns;
  rules: RulesPart;
}

/** One student after a change: their cells in item order and their standing. */
export interface RowUpdate {
  student: string;
  cells: CellColumns;
  standing: Standing;
}

export interface Titles {
  [id: string]: string;
}

export interface Working {
  lines: Line[];
  /** What the cell holds, for saying how late it is and the like; null for a standing or a category. */
  content: EntryContent | null;
}

/** What the page asks of the calculation worker. */
export interface SheetWorker {
  /** Fetches the book document by itself and keeps it compiled. A failed call throws with its sentence. */
  open(book: string): Promise<OpenedSheet>;
  /** Every standing, and 1 in `dropped` at the place of each dropped cell. */
  standings(): Promise<{ standings: Standing[]; dropped: Uint8Array }>;
  /** Makes a change at once, before the server has kept it. */
  change(student: string, item: string, change: CellChange): Promise<RowUpdate>;
  /** Puts in what the server keeps. */
  settle(student: string, item: string, content: EntryContent, version: number, out: 0 | 1 | 2): Promise<RowUpdate>;
  content(student: string, item: string): Promise<EntryContent>;
  explainItem(student: string, item: string, titles: Titles): Promise<Working>;
  explainGroup(student: string, group: string, titles: Titles): Promise<Working>;
  explainStanding(student: string, titles: Titles): Promise<Working>;
  trial(rules: RulesPart): Promise<{ trial: Trial; problems: string[] }>;
  readFile(bytes: Uint8Array): Promise<Table>;
  readText(text: string): Promise<Table>;
  guess(table: Table, roster: RosterStudent[], targets: IntakeColumns): Promise<Columns>;
  preview(table: Table, columns: Columns, roster: RosterStudent[], targets: IntakeColumns): Promise<Preview>;
}

export type IntakeColumns = { id: string; title: string; points: number; marks: string[] }[];

export type { Standing };
