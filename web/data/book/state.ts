import { inject } from '@angular/core';
import { signalStoreFeature, type, withProps, withState } from '@ngrx/signals';
import type { RulesPart } from '@core/book/change';
import type { BookPage } from '@contract/books';
import type { CellColumns, SheetWorker, Standing } from '../../worker/protocol';
import { SHEET_WORKER } from '../../worker/sheet-client';
import { Api } from '../api';
import { Operations } from '../operations';
import { Outbox } from '../outbox/outbox';

export interface BookState {
  id: string;
  page: BookPage | null;
  students: string[];
  items: string[];
  cells: CellColumns | null;
  standings: Standing[];
  rules: RulesPart | null;
  /** Cells that cannot be read as they are kept, by cell key, and why; the next change of one mends it. */
  faults: ReadonlyMap<string, string>;
  /** Assessments in which names are hidden, with how much work waits there; their cells are not told. */
  hidden: ReadonlyMap<string, number>;
  /** Of a book as it stood: to how many students the calculation, changed since, gives another figure. */
  recalculated: number | null;
  /** Grows with every change of a cell or standing: typed arrays change in place. */
  revision: number;
  /** Grows with every loading of the whole sheet. */
  loaded: number;
  /** Scores, over all cells, that are drafts. */
  drafts: number;
  /** Cells, over all, whose work waits to be marked. */
  waiting: number;
  problem: string;
  /** When the server last kept something made here, and how often it has. */
  keptAt: string;
  keeps: number;
  /** Shown as if the term ended now. */
  closing: boolean;
  /** The journal's number that the sheet was loaded at. */
  seq: number;
  /** The line of the journal that the sheet is shown at; null: as it is now. */
  stood: number | null;
}

export const EMPTY: BookState = {
  id: '',
  page: null,
  students: [],
  items: [],
  cells: null,
  standings: [],
  rules: null,
  faults: new Map(),
  hidden: new Map(),
  recalculated: null,
  revision: 0,
  loaded: 0,
  drafts: 0,
  waiting: 0,
  problem: '',
  keptAt: '',
  keeps: 0,
  closing: false,
  seq: 0,
  stood: null,
};

/** What the open book stands on. */
export interface BookProps {
  api: Api;
  operations: Operations;
  outbox: Outbox;
  worker: () => SheetWorker;
}

/** What each feature of the open book begins with. */
export const BOOK = { state: type<BookState>(), props: type<BookProps>() };

export const withBookState = () =>
  signalStoreFeature(
    withState(EMPTY),
    withProps((): BookProps => ({
      api: inject(Api),
      operations: inject(Operations),
      outbox: inject(Outbox),
      worker: inject(SHEET_WORKER),
    })),
  );
