import { csvText } from '../export/csv';
import type { CellChange } from '../book/change';
import type { Columns, Preview, RowFate } from './reconcile';
import type { Table } from './table';

/** A table as a page shows it: how it was read and its first cells, without its rows. */
export interface TableSummary extends Omit<Table, 'rows'> {
  rows: number;
  /** Columns of its widest row. */
  width: number;
  /** The first rows' cells. */
  samples: string[][];
}

/** Rows whose cells stand beside a column's heading. */
const SAMPLES = 3;

export function summarizeTable(table: Table): TableSummary {
  const { rows, ...how } = table;
  return {
    ...how,
    rows: rows.length,
    width: rows.reduce((most, r) => Math.max(most, r.cells.length), how.headings.length),
    samples: rows.slice(0, SAMPLES).map((r) => r.cells),
  };
}

/** Rows of one kind: what needs a person first, then what changes, what is new, and the rest. */
export const ROW_KINDS = ['left out', 'changed', 'new', 'the same'] as const;
export type RowKind = (typeof ROW_KINDS)[number];

/** A preview as a page shows it: of each kind of rows the first, and everything that would be brought in. */
export interface ShownPreview {
  counts: Preview['counts'];
  rows: RowFate[];
  /** Kinds of which not all rows are in `rows`, with how many are, and of how many. */
  cut: { kind: RowKind; shown: number; of: number }[];
  /** Every new or changed cell. */
  bring: { student: string; target: string; change: CellChange }[];
}

/** Cells of a kind of rows that are shown at most. */
const MOST_CELLS = 6_000;

function kindOf(row: RowFate): RowKind {
  const has = (kind: string): boolean => row.cells.some((c) => c.kind === kind);
  return row.refused || has('refused') ? 'left out' : has('changed') ? 'changed' : has('new') ? 'new' : 'the same';
}

/** Orders the rows by kind, each kind in the order of the file, and cuts each so that a page can show it. */
export function shownPreview(preview: Preview, columns: Columns): ShownPreview {
  const most = Math.max(100, Math.floor(MOST_CELLS / (columns.scores.length + 5)));
  const byKind = new Map<RowKind, RowFate[]>(ROW_KINDS.map((kind) => [kind, []]));
  const bring: ShownPreview['bring'] = [];
  for (const row of preview.rows) {
    byKind.get(kindOf(row))!.push(row);
    for (const cell of row.cells)
      if (cell.kind === 'new' || cell.kind === 'changed')
        bring.push({ student: row.match!.id, target: cell.target, change: cell.change });
  }
  const kinds = [...byKind];
  return {
    counts: preview.counts,
    rows: kinds.flatMap(([, rows]) => rows.slice(0, most)),
    cut: kinds.flatMap(([kind, rows]) => (rows.length > most ? [{ kind, shown: most, of: rows.length }] : [])),
    bring,
  };
}

/** Every row that is left out, or of which a cell is, as CSV: its line, the reason, and its cells as they came. */
export function leftOutCsv(table: Table, preview: Preview): string {
  const reasons = new Map<number, string>();
  for (const row of preview.rows) {
    const cell = row.cells.find((c) => c.kind === 'refused');
    const reason = row.refused ?? (cell?.kind === 'refused' ? cell.message : null);
    if (reason !== null) reasons.set(row.line, reason);
  }
  const rows = table.rows.filter((r) => reasons.has(r.line));
  return csvText([
    ['Row', 'Why it is left out', ...table.headings],
    ...rows.map((r) => [String(r.line), reasons.get(r.line)!, ...r.cells]),
  ]);
}
