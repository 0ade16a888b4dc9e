import { STATE_NAMES } from '@core/calculation/cells/cells';
import type { Standing } from '@core/estimate/standings';
import type { EntryContent, RulesPart } from '@core/book/change';
import type { Columns } from '@core/import/reconcile';
import type { ReadTable } from './intake-tables';
import type { ShownPreview } from '@core/import/shown-preview';
import type { RosterStudent } from '@core/import/match';
import type { Table } from '@core/import/table';
import type { Trial } from '@core/proposal/compare';
import type { Line } from '@core/working/sentences';
import type { PlacedItem } from '@core/book/assemble';
import type { HeldException, ShownStanding } from '@core/proposal/exception-effects';
import type { Difference } from '@core/proposal/differences';
import type { CellProposal, Proposal } from '@core/proposal/proposal';
import type { Warning } from '@core/warnings/warnings';
import type { WorkedProposal } from '@core/proposal/work-out';
import type { ItemsProposal, StudentWhatIf, WishedGrade } from './what-if';

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
  /** Names are hidden in its assessment: it is not told what it holds. */
  hidden: 128,
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
  /** Cells that cannot be read as they are kept, by cell key, and why. */
  faults: ReadonlyMap<string, string>;
  /** Assessments in which names are hidden, with how much work waits there. */
  hidden: ReadonlyMap<string, number>;
  /** Of a book as it stood: to how many students the calculation, changed since, gives another figure. */
  recalculated: number | null;
}

/** What the server keeps of one cell. */
export interface StoredCell {
  student: string;
  item: string;
  content: EntryContent;
  version: number;
  releaseState: 0 | 1 | 2;
}

/** Everything that is shown, worked out anew: cells with their drops, and standings. */
export interface WholeSheet {
  cells: CellColumns;
  standings: Standing[];
}

/** Where a student stood at a moment, by the work that was due or in by then. */
export interface StandingAt {
  at: number;
  standing: Standing;
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
  /** The same of the book as it stood: `at` is the number of a journal line or a moment. Nothing in it is changed. */
  openAsOf(book: string, at: string): Promise<OpenedSheet>;
  /** Every standing, and 1 in `dropped` at the place of each dropped cell. */
  standings(): Promise<{ standings: Standing[]; dropped: Uint8Array }>;
  /** Makes changes at once, before the server has kept them. A row for each student concerned. */
  change(cells: CellProposal[]): Promise<RowUpdate[]>;
  /** Puts in what the server keeps. */
  settle(cells: StoredCell[]): Promise<RowUpdate[]>;
  /** The book as if the term ended now, every blank past due; or as it is. */
  atClosing(on: boolean): Promise<WholeSheet>;
  /** What each student has of a category, in percent; NaN: nothing yet. */
  totals(group: string): Promise<Float64Array>;
  /** A student's standing at every due date so far and now. */
  overTerm(student: string): Promise<StandingAt[]>;
  content(student: string, item: string): Promise<EntryContent>;
  /** What each student has on one assessment, in the order of the sheet. */
  column(item: string): Promise<{ student: string; content: EntryContent }[]>;
  /** What each of a student's cells holds that holds anything. */
  contents(student: string): Promise<{ item: string; content: EntryContent }[]>;
  explainItem(student: string, item: string, titles: Titles): Promise<Working>;
  explainGroup(student: string, group: string, titles: Titles): Promise<Working>;
  explainStanding(student: string, titles: Titles): Promise<Working>;
  /** Other rules and settings beside the book as it is. */
  trial(wish: Proposal): Promise<WorkedProposal>;
  /** What moves each mover of a wish. */
  causes(wish: Proposal): Promise<Record<string, Difference[]>>;
  /** Rules and tree as a file, as they are or as a wish would have them. */
  rulesFile(wish: Proposal | null): Promise<string>;
  /** What the core warns of in the rules as they are, or as a sound wish would have them. */
  warnings(wish: Proposal | null): Promise<Warning[]>;
  /** Where changes of cells would leave the students concerned; nothing is changed. */
  whatIfCells(cells: CellProposal[]): Promise<StudentWhatIf[]>;
  /** Where a final grade set by hand, or none, would leave these students; nothing is changed. */
  whatIfOverride(students: string[], grade: WishedGrade): Promise<StudentWhatIf[]>;
  /** The standing of each student without one exception, in the order of the list. */
  without(held: HeldException[]): Promise<ShownStanding[]>;
  /** The book's assessments in their categories, in book order. */
  placed(): Promise<PlacedItem[]>;
  /** The book with other assessments beside the book as it is. */
  whatIfItems(tried: ItemsProposal): Promise<{ trial: Trial; problems: string[] }>;
  /** Reads a table of scores; its rows stay in the worker, under its number. */
  readFile(bytes: Uint8Array): Promise<ReadTable>;
  readText(text: string, encoding?: Table['encoding']): Promise<ReadTable>;
  guess(table: number, roster: RosterStudent[], targets: IntakeColumns): Promise<Columns>;
  /** The rows that the last preview of a table leaves out, as CSV. */
  leftOut(table: number): Promise<string>;
  preview(table: number, columns: Columns, roster: RosterStudent[], targets: IntakeColumns): Promise<ShownPreview>;
}

/** What needs no open book. */
type FreeQuestions = Pick<SheetWorker, 'readFile' | 'readText' | 'guess' | 'leftOut'>;
/** What is asked of the open book. */
export type BookQuestions = Omit<SheetWorker, 'open' | 'openAsOf' | keyof FreeQuestions>;

/**
 * What crosses into the worker: every question of a book names the session that it belongs to. What is asked while a book
 * is being opened waits for it; what comes after another was opened is refused, never answered of the other.
 */
export interface SheetHost extends FreeQuestions {
  open(session: number, book: string): Promise<OpenedSheet>;
  openAsOf(session: number, book: string, at: string): Promise<OpenedSheet>;
  ask(session: number, question: keyof BookQuestions, args: unknown[]): Promise<unknown>;
}

export type IntakeColumns = { id: string; title: string; points: number; marks: string[] }[];

export type { CellProposal as CellWish, Standing };
