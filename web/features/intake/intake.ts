import { counted, formOf } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { Counted } from '../../ui/text/counted';
import { gradually } from '../../ui/timing/gradually';
import { MANY_ROWS, ROW_HEIGHT, ROWS } from '../../ui/layout/rows';
import { InputText } from 'primeng/inputtext';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import { Select } from 'primeng/select';
import { Textarea } from 'primeng/textarea';
import type { CellFate, RowFate } from '@core/import/reconcile';
import type { ShownPreview } from '@core/import/shown-preview';
import type { BatchMade, IntakeWrite } from '@contract/scores';
import { Api, ApiProblem, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { inDecimals } from '../../ui/text/locale';
import { StatusBar } from '../../ui/layout/status-bar';
import { ImportsList } from './imports-list';
import { IntakeTable } from './intake-table';
import { fileName, save } from '../../ui/chart/picture-file';
import { shortContent } from '../../ui/text/short-content';
import { listName } from '../../ui/text/list-name';

/** More than a preview shows. */
const ALL_ROWS = 1_000_000;

/** Bringing scores in: a file or a paste, its columns, what each row becomes, and then all of it or nothing. */
@Component({
  selector: 'lt-intake',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, ROWS, InputText, ImportsList, FormsModule, Button, Select, Textarea],
  templateUrl: './intake.html',
  providers: [IntakeTable],
  styleUrl: './intake.css',
  host: { '(document:keydown)': 'key($event)', '(dragover)': 'over($event)', '(drop)': 'dropped($event)' },
})
export class IntakePage {
  protected readonly MANY = MANY_ROWS;
  protected readonly ROW = ROW_HEIGHT;
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  protected readonly input = inject(IntakeTable);
  protected readonly name = this.input.name;
  protected readonly pasted = this.input.pasted;
  protected readonly table = this.input.table;
  protected readonly columns = this.input.columns;
  protected readonly preview = this.input.preview;
  protected readonly failure = this.input.failure;
  private readonly targets = this.input.targets;
  protected readonly busy = signal(false);
  protected readonly done = signal<{ title: string; cells: number } | null>(null);

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
    return Array.from({ length: table.width }, (_, column) => {
      const score = columns.scores.find((s) => s.column === column);
      return {
        column,
        heading: table.headings[column] || `column ${column + 1}`,
        sample: table.samples
          .map((cells) => cells[column] ?? '')
          .filter(Boolean)
          .join(', '),
        value: columns.student === column ? '*' : (score?.target ?? ''),
        score: score ?? null,
        points: score ? this.targets().find((t) => t.id === score.target)!.points : 0,
      };
    });
  });
  /** What needs a person comes first; then what changes; the rest in the order of the file. */
  protected readonly rows = computed(() => this.preview()?.rows ?? []);
  /** The table's head first, then its rows. */
  private readonly drawnRows = gradually(() => this.rows().length, ALL_ROWS);
  protected readonly drawn = computed(() => this.rows().slice(0, this.drawnRows()));
  protected readonly drawnColumns = gradually(() => this.fileColumns().length, 1);
  protected readonly bringing = computed(() =>
    this.preview() ? this.preview()!.counts.new + this.preview()!.counts.changed : 0,
  );
  /** Exceptions that the file would make: they have a reason, as everywhere. */
  protected readonly excepting = computed(
    () => (this.preview()?.bring ?? []).filter((c) => c.change.kind === 'state').length,
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
    return `${counted(t.rows, 'row')}, ${delimiter}${t.decimalComma ? ', decimal comma' : ''}${t.encoding === 'typed' ? '' : `, ${t.encoding}`}${title}`;
  });

  constructor() {
    effect(() => {
      const bringing = this.bringing();
      const done = this.done();
      untracked(() => {
        this.statusBar.keys.set(bringing > 0 ? [{ key: 'Ctrl+Enter', label: 'bring in' }] : []);
        if (done) this.statusBar.announce(this.inBook(done));
        else {
          const empty = 'Drop a file anywhere on this page, or paste a table.';
          this.statusBar.setIdle(this.table() ? 'Nothing is in the book yet' : empty);
        }
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
    if (file) void this.readFile(file);
  }

  protected picked(event: Event): void {
    const box = event.target as HTMLInputElement;
    const file = box.files?.[0];
    if (file) void this.readFile(file);
    box.value = '';
  }

  protected reset(): void {
    this.input.reset();
    this.done.set(null);
  }

  private async readFile(file: File): Promise<void> {
    this.done.set(null);
    await this.input.readFile(file);
  }

  protected async readPasted(): Promise<void> {
    this.done.set(null);
    await this.input.readPasted();
  }

  protected who(row: RowFate): string {
    const p = row.match ? this.store.people().get(row.match.id) : undefined;
    return p ? listName(p) : row.who || '–';
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

  /** Which rows are not all shown. */
  protected cutRows({ kind, shown, of }: ShownPreview['cut'][number]): string {
    return `Of ${counted(of, 'row')} ${kind === 'left out' ? 'that are left out' : `that bring what is ${kind}`}, the first ${shown} stand here.`;
  }

  protected async saveLeftOut(): Promise<void> {
    const text = await this.store.worker().leftOut(this.table()!.id);
    save(fileName(`${this.name()} left out`, 'csv'), new Blob([text], { type: 'text/csv;charset=utf-8' }));
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
    const cells: IntakeWrite['cells'] = preview.bring.map(({ student, target, change }) => ({
      assessment: target,
      enrolment: student,
      version: this.input.seenVersion(student, target),
      change,
    }));
    try {
      const made = await this.operations.submit<BatchMade>('POST', `/books/${this.store.id()}/intake`, {
        title: this.name(),
        ...(this.excepting() > 0 && this.reason().trim() !== '' ? { reason: this.reason().trim() } : {}),
        cells,
      } satisfies Omit<IntakeWrite, 'operation'>);
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
        await this.input.look();
      }
    } finally {
      this.busy.set(false);
    }
  }
}
