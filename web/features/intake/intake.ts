import { counted, formOf } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { Counted } from '../../ui/text/counted';
import { MANY_ROWS, ROW_HEIGHT, ROWS } from '../../ui/layout/rows';
import { InputText } from 'primeng/inputtext';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import { Select } from 'primeng/select';
import { Textarea } from 'primeng/textarea';
import { splitHeading, type CellFate, type Columns, type Preview, type RowFate } from '@core/import/reconcile';
import type { RosterStudent } from '@core/import/match';
import type { Table } from '@core/import/table';
import type { BatchMade, IntakeWrite } from '@contract/scores';
import { Api, ApiProblem, newOperation, messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { inDecimals } from '../../ui/text/locale';
import { StatusBar } from '../../ui/layout/status-bar';
import { ImportsList } from './imports-list';
import { shortContent } from '../../ui/text/short-content';

const LARGEST = 20 * 1024 * 1024;

/** Bringing scores in: a file or a paste, its columns, what each row becomes, and then all of it or nothing. */
@Component({
  selector: 'lt-intake',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, ROWS, InputText, ImportsList, FormsModule, Button, Select, Textarea],
  templateUrl: './intake.html',
  styleUrl: './intake.css',
  host: { '(keydown)': 'key($event)', '(dragover)': 'over($event)', '(drop)': 'dropped($event)' },
})
export class IntakePage {
  protected readonly MANY = MANY_ROWS;
  protected readonly ROW = ROW_HEIGHT;
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  protected readonly name = signal('');
  protected readonly pasted = signal('');
  protected readonly table = signal<Table | null>(null);
  protected readonly columns = signal<Columns | null>(null);
  protected readonly preview = signal<Preview | null>(null);
  protected readonly failure = signal('');
  protected readonly busy = signal(false);
  protected readonly done = signal<{ title: string; cells: number } | null>(null);

  private readonly roster = computed((): RosterStudent[] =>
    (this.store.page()?.students ?? []).map(({ id, number, family, given, mail }) => ({
      id,
      number,
      family,
      given,
      mail,
    })),
  );
  private readonly targets = computed(() =>
    (this.store.page()?.assessments ?? []).map(({ id, title, points, marks }) => ({ id, title, points, marks })),
  );
  /** What each column of the file can be: the student, an assessment, or nothing. */
  protected readonly choices = computed(() => [
    { value: '', label: 'left out' },
    { value: '*', label: 'the student' },
    ...this.targets().map((t) => ({ value: t.id, label: t.title })),
  ]);
  protected readonly fileColumns = computed(() => {
    const table = this.table();
    const columns = this.columns();
    if (!table || !columns) return [];
    const width = Math.max(table.headings.length, ...table.rows.slice(0, 200).map((r) => r.cells.length));
    return Array.from({ length: width }, (_, column) => {
      const score = columns.scores.find((s) => s.column === column);
      return {
        column,
        heading: table.headings[column] || `column ${column + 1}`,
        sample: table.rows
          .slice(0, 3)
          .map((r) => r.cells[column] ?? '')
          .filter(Boolean)
          .join(', '),
        value: columns.student === column ? '*' : (score?.target ?? ''),
        score: score ?? null,
        points: score ? this.targets().find((t) => t.id === score.target)!.points : 0,
      };
    });
  });
  /** What needs a person comes first; then what changes; the rest in the order of the file. */
  protected readonly rows = computed(() => {
    const rank = (r: RowFate): number =>
      r.refused || r.cells.some((c) => c.kind === 'refused')
        ? 0
        : r.cells.some((c) => c.kind === 'changed')
          ? 1
          : r.cells.some((c) => c.kind === 'new')
            ? 2
            : 3;
    return [...(this.preview()?.rows ?? [])].sort((a, b) => rank(a) - rank(b) || a.line - b.line);
  });
  protected readonly bringing = computed(() =>
    this.preview() ? this.preview()!.counts.new + this.preview()!.counts.changed : 0,
  );
  /** Exceptions that the file would make: they have a reason, as everywhere. */
  protected readonly excepting = computed(
    () =>
      (this.preview()?.rows ?? [])
        .flatMap((r) => r.cells)
        .filter((c) => (c.kind === 'new' || c.kind === 'changed') && c.change.kind === 'state').length,
  );
  protected readonly reason = signal('');
  protected readonly lacksReason = computed(
    () => this.excepting() > 0 && this.store.page()?.wantsReasons === true && this.reason().trim() === '',
  );
  protected readonly how = computed(() => {
    const t = this.table();
    if (!t) return '';
    const delimiter = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', '|': 'bars' }[t.delimiter] ?? t.delimiter;
    const title = t.headerRow > 0 ? `, headings in row ${t.headerRow + 1}` : t.headerRow < 0 ? ', no headings' : '';
    return `${counted(t.rows.length, 'row')}, ${delimiter}${t.decimalComma ? ', decimal comma' : ''}${t.encoding === 'typed' ? '' : `, ${t.encoding}`}${title}`;
  });

  constructor() {
    effect(() => {
      const bringing = this.bringing();
      const done = this.done();
      untracked(() => {
        this.statusBar.keys.set(bringing > 0 ? [{ key: 'Ctrl+Enter', label: 'bring in' }] : []);
        this.statusBar.announce(
          done
            ? this.inBook(done)
            : this.table()
              ? 'Nothing is in the book yet'
              : 'Drop a file anywhere on this page, or paste a table.',
        );
      });
    });
  }

  protected inBook(done: { title: string; cells: number }): string {
    return done.cells === 1
      ? `1 score of ${done.title} is in the book.`
      : `${counted(done.cells, 'score')} of ${done.title} ${formOf(done.cells, 'is', 'are')} in the book.`;
  }

  protected over(event: DragEvent): void {
    event.preventDefault();
  }

  protected dropped(event: DragEvent): void {
    event.preventDefault();
    const file = event.dataTransfer?.files[0];
    if (file) void this.read(file);
  }

  protected picked(event: Event): void {
    const box = event.target as HTMLInputElement;
    const file = box.files?.[0];
    if (file) void this.read(file);
    box.value = '';
  }

  private async read(file: File): Promise<void> {
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

  protected async readPasted(): Promise<void> {
    await this.take('Pasted table', () => this.store.worker().readText(this.pasted()));
  }

  private async take(name: string, read: () => Promise<Table>): Promise<void> {
    this.reset();
    try {
      const table = await read();
      if (table.rows.length === 0) return this.failure.set(`${name} holds no rows. Nothing was read.`);
      this.name.set(name);
      this.table.set(table);
      this.columns.set(await this.store.worker().guess(table, this.roster(), this.targets()));
      await this.look();
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  protected reset(): void {
    this.table.set(null);
    this.columns.set(null);
    this.preview.set(null);
    this.failure.set('');
    this.done.set(null);
  }

  private async look(): Promise<void> {
    const table = this.table();
    const columns = this.columns();
    if (table && columns)
      this.preview.set(await this.store.worker().preview(table, columns, this.roster(), this.targets()));
  }

  /** Says what a column of the file is. One column is the student; an assessment is taken by one column at most. */
  protected async choose(column: number, value: string): Promise<void> {
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

  protected async rescale(column: number, text: string): Promise<void> {
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

  protected who(row: RowFate): string {
    const p = row.match ? this.store.people().get(row.match.id) : undefined;
    return p ? (p.given ? `${p.family}, ${p.given}` : p.family) : row.who || '–';
  }

  protected section(row: RowFate): string {
    const p = row.match ? this.store.people().get(row.match.id) : undefined;
    return p?.section ? (this.store.sections().get(p.section) ?? '') : '';
  }

  protected title(target: string): string {
    return this.store.titles()[target] ?? '';
  }

  protected was(cell: CellFate): string {
    return 'was' in cell ? inDecimals(shortContent(cell.was)) : '';
  }

  protected becomes(cell: CellFate): string {
    if (!('change' in cell)) return cell.typed;
    const c = cell.change;
    return c.kind === 'score'
      ? inDecimals(String(c.points))
      : c.kind === 'mark'
        ? c.label
        : c.kind === 'state'
          ? c.state === 'awaiting'
            ? 'awaited'
            : (c.state ?? '')
          : cell.typed;
  }

  protected hasRefused(row: RowFate): boolean {
    return row.cells.some((c) => c.kind === 'refused');
  }

  /** What will happen to a row, in a few words. */
  protected fate(row: RowFate): string {
    if (row.refused) return row.refused;
    const refused = row.cells.find((c) => c.kind === 'refused');
    if (refused?.kind === 'refused') return refused.message;
    const above = row.cells.find((c) => 'above' in c && c.above);
    const count = (kind: CellFate['kind']): number => row.cells.filter((c) => c.kind === kind).length;
    const parts = [
      [count('new'), 'new'],
      [count('changed'), 'changed'],
      [count('same'), 'the same'],
      [count('blank'), 'blank, left as it is'],
    ] as const;
    const words = parts.filter(([n]) => n > 0).map(([n, w]) => (row.cells.length === 1 ? w : `${n} ${w}`));
    return [...words, ...(above ? ['more than full marks'] : [])].join(', ') || 'no score column chosen';
  }

  protected key(event: KeyboardEvent): void {
    if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    if (this.preview()) void this.bringIn();
    else if (this.pasted().trim() !== '') void this.readPasted();
  }

  protected async bringIn(): Promise<void> {
    const preview = this.preview();
    if (!preview || this.busy() || this.bringing() === 0 || this.lacksReason()) return;
    this.busy.set(true);
    this.failure.set('');
    const students = this.store.students();
    const items = this.store.items();
    const cells: IntakeWrite['cells'] = preview.rows.flatMap((r) =>
      r.cells.flatMap((c) => {
        if (c.kind !== 'new' && c.kind !== 'changed') return [];
        const at = this.store.at(students.indexOf(r.match!.id), items.indexOf(c.target));
        return [
          { assessment: c.target, enrolment: r.match!.id, version: this.store.cells()!.version[at]!, change: c.change },
        ];
      }),
    );
    try {
      const made = await this.api.send<BatchMade>('POST', `/books/${this.store.id()}/intake`, {
        operation: newOperation(),
        title: this.name(),
        ...(this.excepting() > 0 && this.reason().trim() !== '' ? { reason: this.reason().trim() } : {}),
        cells,
      } satisfies IntakeWrite);
      const title = this.name();
      this.reset();
      this.reason.set('');
      this.pasted.set('');
      this.done.set({ title, cells: made.cells });
      await this.store.reload();
    } catch (error) {
      this.failure.set(messageOf(error));
      // What others changed meanwhile is shown, so that the preview is true again.
      if (error instanceof ApiProblem && error.code === 'stale') {
        await this.store.reload();
        await this.look();
      }
    } finally {
      this.busy.set(false);
    }
  }
}
