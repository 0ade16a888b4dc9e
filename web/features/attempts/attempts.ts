import { inDecimals } from '../../ui/text/locale';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { ROWS } from '../../ui/layout/rows';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { Choice } from '../../ui/form/choice';
import { InputText } from 'primeng/inputtext';
import { RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import type { EntryContent } from '@core/book/change';
import type { Attempt } from '@core/book/document';
import type { Line } from '@core/working/sentences';
import type { ChangesMade } from '@contract/scores';
import { Api, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { amountIn } from '../../ui/text/amount';
import { DayBox } from '../../ui/form/day-box';
import { WorkingLines } from '../../ui/text/working-lines';

/** One attempt as it is being typed. */
interface Row {
  key: number;
  score: string;
  mark: string;
  receivedAt: string | null;
  badDay: boolean;
  lateUnits: string;
  onTime: boolean;
}

const emptyRow = (key: number): Row => ({
  key,
  score: '',
  mark: '',
  receivedAt: null,
  badDay: false,
  lateUnits: '',
  onTime: false,
});

/** The attempts that rows say, or why one cannot be read. */
export function attemptsOf(rows: readonly Row[]): { attempts: Attempt[] } | { message: string } {
  const attempts: Attempt[] = [];
  for (const [i, r] of rows.entries()) {
    const attempt: Attempt = {};
    if (r.badDay) return { message: `Attempt ${i + 1}: when it came in is no day such as 12 Nov 16:00.` };
    if (r.score.trim() !== '') {
      const score = amountIn(r.score);
      if (score === null)
        return { message: `Attempt ${i + 1}: “${r.score.trim()}” is no score in points, such as 14.5.` };
      attempt.score = score;
    }
    if (r.mark !== '') attempt.mark = r.mark;
    if (attempt.score !== undefined && attempt.mark !== undefined)
      return { message: `Attempt ${i + 1} has points and a mark: take one of them away.` };
    if (r.receivedAt !== null) attempt.receivedAt = r.receivedAt;
    if (r.lateUnits.trim() !== '') {
      if (!/^\d{1,4}$/.test(r.lateUnits.trim()))
        return { message: `Attempt ${i + 1}: how late it is said by a whole number, such as 2.` };
      attempt.lateUnits = Number(r.lateUnits);
    }
    if (r.onTime) attempt.onTime = true;
    attempts.push(attempt);
  }
  return { attempts };
}

/** All attempts of one student on one assessment: typed, dated, each with its lateness; which counts, and why. */
@Component({
  selector: 'lt-attempts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ROWS, FormsModule, Checkbox, Choice, InputText, RouterLink, Button, DayBox, WorkingLines],
  templateUrl: './attempts.html',
  styleUrl: './attempts.css',
  host: { role: 'main', '(keydown.control.enter)': 'keep()' },
})
export class AttemptsPage {
  readonly student = input.required<string>();
  readonly assessment = input.required<string>();
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);

  protected readonly rows = signal<Row[]>([]);
  protected readonly working = signal<Line[]>([]);
  protected readonly tried = signal('');
  protected readonly reason = signal('');
  protected readonly failure = signal('');
  protected readonly busy = signal(false);
  private content: EntryContent = {};
  private version = 0;
  private began = '';
  private keys = 0;

  protected readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');
  protected readonly near = computed(() => this.a()?.due ?? this.store.page()?.asOf ?? '2026-01-01T00:00:00Z');
  protected readonly marks = computed(() => [
    { value: '', text: 'no mark' },
    ...(this.a()?.marks ?? []).map((m) => ({ value: m, text: m })),
  ]);
  protected readonly a = computed(() => this.store.assessments().get(this.assessment()));
  protected readonly name = computed(() => {
    const p = this.store.people().get(this.student());
    return p ? (p.given ? `${p.given} ${p.family}` : p.family) : '';
  });
  protected readonly read = computed(() => attemptsOf(this.rows()));
  protected readonly refused = computed(() => {
    const r = this.read();
    return 'message' in r ? r.message : '';
  });
  protected readonly changed = computed(
    () => JSON.stringify(this.rows().map(({ key: _k, ...r }) => r)) !== this.first(),
  );
  private readonly first = signal('');

  constructor() {
    const keys = [{ key: 'Ctrl+Enter', label: 'keep the attempts' }];
    this.statusBar.keys.set([...keys, { key: '?', label: 'all keys' }]);
    this.statusBar.sheet.set([{ title: 'Attempts', keys }]);
    effect(() => {
      const cell = `${this.student()} ${this.assessment()}`;
      this.store.revision();
      if (this.store.cells() && this.store.studentIndex().has(this.student()) && this.a())
        untracked(() => void this.load(cell));
    });
    effect(() => {
      const r = this.read();
      if (this.store.cells() && !('message' in r)) untracked(() => void this.tryOut(r.attempts));
    });
  }

  private async load(cell: string): Promise<void> {
    const [student, item] = [this.student(), this.assessment()];
    const { lines, content } = await this.store.worker().explainItem(student, item, this.store.titles());
    if (cell !== `${this.student()} ${this.assessment()}`) return;
    this.working.set(lines);
    const fresh = cell !== this.began;
    // What is being typed outlives what others change; keeping it then says that it is not what one saw.
    if (!fresh && this.changed()) return;
    this.began = cell;
    this.content = content ?? {};
    this.version = this.store.cells()?.version[this.store.atCell(student, item)] ?? 0;
    this.begin();
  }

  private begin(): void {
    const rows = (this.content.attempts ?? []).map((a): Row => ({
      ...emptyRow(++this.keys),
      score: a.score === undefined ? '' : String(a.score),
      mark: a.mark ?? '',
      receivedAt: a.receivedAt ?? null,
      lateUnits: a.lateUnits === undefined ? '' : String(a.lateUnits),
      onTime: a.onTime === true,
    }));
    this.rows.set(rows);
    this.first.set(JSON.stringify(rows.map(({ key: _k, ...r }) => r)));
    this.failure.set('');
    this.reason.set('');
  }

  private entryOf(attempts: Attempt[]): EntryContent {
    const { attempts: _was, ...rest } = this.content;
    return attempts.length === 0 ? rest : { ...rest, attempts };
  }

  private async tryOut(attempts: Attempt[]): Promise<void> {
    if (!this.changed()) return this.tried.set('');
    const change = { kind: 'put' as const, entry: this.entryOf(attempts) };
    const [t] = await this.store.worker().whatIfCells([{ student: this.student(), item: this.assessment(), change }]);
    if (this.read() !== undefined && t)
      this.tried.set(
        t.before.percent === t.after.percent && t.before.letter === t.after.letter
          ? 'The standing stays what it is.'
          : `The standing goes from ${inDecimals(t.before.percent ?? 'none')} ${t.before.letter ?? ''} to ${inDecimals(t.after.percent ?? 'none')} ${t.after.letter ?? ''}.`,
      );
  }

  protected set(key: number, part: Partial<Row>): void {
    this.rows.update((all) => all.map((r) => (r.key === key ? { ...r, ...part } : r)));
    this.failure.set('');
  }

  protected add(): void {
    this.rows.update((all) => [...all, emptyRow(++this.keys)]);
    setTimeout(() => {
      const boxes = document.querySelectorAll<HTMLInputElement>('lt-attempts input.score');
      boxes[boxes.length - 1]?.focus();
    });
  }

  protected remove(key: number): void {
    this.rows.update((all) => all.filter((r) => r.key !== key));
  }

  protected drop(): void {
    this.begin();
  }

  protected async keep(): Promise<void> {
    const read = this.read();
    if ('message' in read || !this.changed() || this.busy()) return;
    const wish = {
      kind: 'change',
      title: '',
      reason: this.reason().trim(),
      cells: [
        {
          assessment: this.assessment(),
          enrolment: this.student(),
          version: this.version,
          change: { kind: 'put', entry: this.entryOf(read.attempts) },
        },
      ],
    };
    this.busy.set(true);
    this.failure.set('');
    try {
      const made = await this.operations.submit<ChangesMade>('POST', `/books/${this.store.id()}/changes`, wish);
      this.began = '';
      await this.store.settle(made.cells);
      this.statusBar.announce(`${this.name()}, ${this.a()?.title}: kept.`);
    } catch (error) {
      this.failure.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
