import { effect, computed, inject, Injectable, signal, untracked } from '@angular/core';
import { cellKey } from '@contract/wire/cell-key';
import type { RosterStudent } from '@core/import/match';
import { splitHeading, type Columns } from '@core/import/reconcile';
import type { ShownPreview } from '@core/import/shown-preview';
import type { Table } from '@core/import/table';
import { messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { KeptDrafts } from '../../data/kept-drafts';
import type { ReadTable } from '../../worker/intake-tables';

const LARGEST = 20 * 1024 * 1024;

/** What was read and not brought in, and what its columns are. */
interface LeftTable {
  name: string;
  text: string;
  encoding: Table['encoding'];
  columns: Columns;
}

/** The table that is read from a file or a paste, what its columns are, and what each row would become. */
@Injectable()
export class IntakeTable {
  private readonly store = inject(BookStore);
  private readonly drafts = inject(KeptDrafts);
  readonly name = signal('');
  readonly pasted = this.drafts.text(() => (this.store.id() ? `pasted ${this.store.id()}` : ''));
  readonly table = signal<ReadTable | null>(null);
  readonly columns = signal<Columns | null>(null);
  readonly preview = signal<ShownPreview | null>(null);
  readonly failure = signal('');

  private readonly roster = computed((): RosterStudent[] =>
    (this.store.page()?.students ?? []).map(({ id, number, family, given, mail }) => ({
      id,
      number,
      family,
      given,
      mail,
    })),
  );
  readonly targets = computed(() =>
    // Where names are hidden no score comes in by name.
    (this.store.page()?.assessments ?? [])
      .filter((a) => !a.namesHidden)
      .map(({ id, title, points, marks }) => ({ id, title, points, marks })),
  );
  /** What was read and not brought in is there again when one comes back. */
  private tookUp = false;

  private place(): string {
    return `intake ${this.store.id()}`;
  }

  private async takeUp(): Promise<void> {
    const left = this.drafts.read<LeftTable>(this.place());
    if (!left || this.table()) return;
    try {
      const table = await this.store.worker().readText(left.text, left.encoding);
      this.name.set(left.name);
      this.columns.set(left.columns);
      this.table.set(table);
      await this.look();
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  constructor() {
    effect(() => {
      if (!this.store.id() || !this.store.cells() || this.tookUp) return;
      this.tookUp = true;
      untracked(() => void this.takeUp());
    });
    effect(() => {
      const [name, table, columns] = [this.name(), this.table(), this.columns()];
      if (!this.tookUp || (table && !columns)) return;
      const left: LeftTable | null = table && { name, text: table.text, encoding: table.encoding, columns: columns! };
      untracked(() => this.drafts.keep(this.place(), left));
    });
  }

  async readFile(file: File): Promise<void> {
    if (file.size > LARGEST)
      return this.failure.set(
        `${file.name} is larger than 20 MB, more than a file of scores can be. Nothing was read.`,
      );
    if (/\.(xlsx|xls|ods|numbers|pdf|docx?)$/i.test(file.name))
      return this.failure.set(
        `${file.name} is not a text file. Save it as CSV in the program it comes from and bring that in, or copy its cells and paste them here.`,
      );
    await this.take(file.name, async () => this.store.worker().readFile(new Uint8Array(await file.arrayBuffer())));
  }

  async readPasted(): Promise<void> {
    await this.take('Pasted table', () => this.store.worker().readText(this.pasted()));
  }

  private async take(name: string, read: () => Promise<ReadTable>): Promise<void> {
    this.reset();
    try {
      const table = await read();
      if (table.rows === 0) return this.failure.set(`${name} holds no rows. Nothing was read.`);
      this.name.set(name);
      this.table.set(table);
      this.columns.set(await this.store.worker().guess(table.id, this.roster(), this.targets()));
      await this.look();
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  reset(): void {
    this.table.set(null);
    this.columns.set(null);
    this.preview.set(null);
    this.failure.set('');
  }

  /** The versions of the cells as they were when the preview was made. */
  private seen: ReadonlyMap<string, number> = new Map();

  async look(): Promise<void> {
    const table = this.table();
    const columns = this.columns();
    if (!table || !columns) return;
    const preview = await this.store.worker().preview(table.id, columns, this.roster(), this.targets());
    this.seen = new Map(
      preview.bring.map((c) => [cellKey(c.student, c.target), this.store.versionAt(c.student, c.target)] as const),
    );
    this.preview.set(preview);
  }

  /** The version of a cell as it was when the preview was made. */
  seenVersion(student: string, assessment: string): number {
    return this.seen.get(cellKey(student, assessment))!;
  }

  /** Says what a column of the file is. One column is the student; an assessment is taken by one column at most. */
  async choose(column: number, value: string): Promise<void> {
    const now = this.columns()!;
    const scores = now.scores.filter((s) => s.column !== column && s.target !== value);
    if (value !== '' && value !== '*') {
      const { outOf } = splitHeading(this.table()!.headings[column] ?? '');
      const points = this.targets().find((t) => t.id === value)!.points;
      scores.push({ column, target: value, outOf: outOf !== null && outOf !== points ? outOf : null });
    }
    const student = value === '*' ? column : now.student === column ? null : now.student;
    this.columns.set({ student, scores: scores.sort((a, b) => a.column - b.column) });
    await this.look();
  }

  async rescale(column: number, text: string): Promise<void> {
    const outOf = Number(text.replace(',', '.'));
    const now = this.columns()!;
    const scores = now.scores.map((s) => {
      if (s.column !== column) return s;
      const points = this.targets().find((t) => t.id === s.target)!.points;
      return { ...s, outOf: outOf > 0 && Number.isFinite(outOf) && outOf !== points ? outOf : null };
    });
    this.columns.set({ ...now, scores });
    await this.look();
  }
}
