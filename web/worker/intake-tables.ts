import type { EntryContent } from '@core/book/change';
import type { RosterStudent } from '@core/import/match';
import { guessColumns, reconcile, type Columns, type IntakeTarget, type Preview } from '@core/import/reconcile';
import {
  leftOutCsv,
  shownPreview,
  summarizeTable,
  type ShownPreview,
  type TableSummary,
} from '@core/import/shown-preview';
import { decode, readTable, type Table } from '@core/import/table';

/** A table that was read: how, and its text, from which it is read again when its page comes back. Its rows stay here. */
export interface ReadTable extends TableSummary {
  id: number;
  text: string;
}

/** Tables that are kept beside each other: one on the page, and one that is just being read. */
const KEPT = 2;

/** The tables that the intake page has read. Their rows may be many: the page is given what it shows of them. */
export class IntakeTables {
  private last = 0;
  private readonly kept = new Map<number, { table: Table; preview: Preview | null }>();

  readFile(bytes: Uint8Array): ReadTable {
    const { text, encoding } = decode(bytes);
    return this.read(text, encoding);
  }

  read(text: string, encoding?: Table['encoding']): ReadTable {
    const table = readTable(text, encoding);
    const id = ++this.last;
    this.kept.set(id, { table, preview: null });
    this.kept.delete(id - KEPT);
    return { ...summarizeTable(table), id, text };
  }

  guess(id: number, roster: readonly RosterStudent[], targets: readonly IntakeTarget[]): Columns {
    return guessColumns(this.of(id).table, roster, targets);
  }

  preview(
    id: number,
    columns: Columns,
    roster: readonly RosterStudent[],
    targets: readonly IntakeTarget[],
    now: (student: string, item: string) => EntryContent,
  ): ShownPreview {
    const kept = this.of(id);
    kept.preview = reconcile(kept.table, columns, roster, targets, now);
    return shownPreview(kept.preview, columns);
  }

  leftOut(id: number): string {
    const { table, preview } = this.of(id);
    return preview ? leftOutCsv(table, preview) : '';
  }

  private of(id: number): { table: Table; preview: Preview | null } {
    const kept = this.kept.get(id);
    if (!kept) throw new Error('Another table was read meanwhile.');
    return kept;
  }
}
