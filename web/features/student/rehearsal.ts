import { inDecimals } from '../../ui/text/locale';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { Decimals } from '../../ui/text/decimals';
import { ROWS } from '../../ui/layout/rows';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { Choice, optionsOf } from '../../ui/form/choice';
import { InputText } from 'primeng/inputtext';
import { RouterLink } from '@angular/router';
import { parse } from '@core/exact/fraction';
import { shortText } from '@core/exact/rounding';
import type { Rehearsal, RehearsalWrite } from '@contract/statements';
import { Api, messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { schoolNow } from '../../ui/text/dates';
import { StatusBar } from '../../ui/layout/status-bar';
import { amountIn } from '../../ui/text/amount';
import { DayBox } from '../../ui/form/day-box';
import { receivedOf, typedOf, withReceived, withTyped } from './rehearsal-cell';
import { StatementView } from './statement-view';

const NOTHING: RehearsalWrite = { asOf: null, section: null, extraTimeHours: 0, cells: [] };

/** A made-up student: what one gives them at the left, what they would read at the right. It stands nowhere else. */
@Component({
  selector: 'lt-rehearsal',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Decimals, ROWS, FormsModule, Checkbox, Choice, InputText, DayBox, RouterLink, StatementView],
  templateUrl: './rehearsal.html',
  styleUrl: './rehearsal.css',
})
export class RehearsalPage {
  protected readonly store = inject(BookStore);
  protected readonly sections = computed(() => optionsOf(this.store.page()?.sections ?? [], 'no section'));
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  protected readonly answer = signal<Rehearsal | null>(null);
  protected readonly problem = signal('');
  /** What cannot be read, by assessment ('' for the sentence above them). */
  protected readonly message = signal<Record<string, string>>({});
  private readonly write = signal<RehearsalWrite>(NOTHING);
  /** Answers come in the order they were asked; only the last counts. */
  private asked = 0;
  protected readonly is = computed(() => this.write());
  protected readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');
  protected readonly near = computed(() => this.store.page()?.asOf ?? schoolNow());
  /** Some work of the book is handed in through the application. */
  protected readonly takesWork = computed(() => (this.store.page()?.assessments ?? []).some((a) => a.takesWork));
  protected readonly rows = computed(() => {
    const cells = new Map(this.write().cells.map((c) => [c.assessment, c]));
    const items = new Map((this.answer()?.ledger.items ?? []).map((i) => [i.id, i]));
    const message = this.message();
    return (this.store.page()?.assessments ?? []).map((a) => {
      const cell = cells.get(a.id);
      const item = items.get(a.id);
      const entry = cell?.entry ?? {};
      return {
        a,
        typed: typedOf(entry),
        received: receivedOf(entry),
        released: cell?.released ?? false,
        counts: item?.earned ? inDecimals(shortText(parse(item.earned))) : '',
        /** What a blank is by the book's rules. */
        blank: item?.state === 'missing' ? 'missing' : '',
        dropped: item?.dropped ?? false,
        message: message[a.id] ?? '',
      };
    });
  });
  protected readonly anything = computed(() => JSON.stringify(this.write()) !== JSON.stringify(NOTHING));

  constructor() {
    this.statusBar.setIdle('A rehearsal: it counts nowhere, and nobody is told.');
    effect(() => {
      const id = this.store.id();
      untracked(() => {
        if (id) void this.ask(this.api.get<Rehearsal>(this.path(id)));
      });
    });
  }

  private path(id: string): string {
    return `/books/${encodeURIComponent(id)}/rehearsal`;
  }

  private async ask(request: Promise<Rehearsal>): Promise<void> {
    const turn = ++this.asked;
    try {
      const answer = await request;
      if (turn !== this.asked) return;
      this.answer.set(answer);
      this.write.set(answer.write);
      this.problem.set('');
    } catch (error) {
      if (turn === this.asked) this.problem.set(messageOf(error));
    }
  }

  protected set(put: Partial<RehearsalWrite>): void {
    this.write.update((w) => ({ ...w, ...put }));
    void this.ask(this.api.send<Rehearsal>('PUT', this.path(this.store.id()), this.write()));
  }

  protected retry(): void {
    const path = this.path(this.store.id());
    void this.ask(this.anything() ? this.api.send('PUT', path, this.write()) : this.api.get<Rehearsal>(path));
  }

  protected beginAnew(): void {
    this.message.set({});
    this.set(NOTHING);
  }

  private tell(place: string, message: string): void {
    this.message.update((all) => ({ ...all, [place]: message }));
  }

  private setCell(assessment: string, put: Partial<RehearsalWrite['cells'][number]>): void {
    const cells = this.write().cells.filter((c) => c.assessment !== assessment);
    const was = this.write().cells.find((c) => c.assessment === assessment);
    const cell = { assessment, entry: {}, released: false, ...was, ...put };
    const empty = Object.keys(cell.entry).length === 0 && !cell.released;
    this.set({ cells: empty ? cells : [...cells, cell] });
  }

  private entry(assessment: string) {
    return this.write().cells.find((c) => c.assessment === assessment)?.entry ?? {};
  }

  protected type(assessment: string, event: Event): void {
    const a = this.store.assessments().get(assessment)!;
    const box = event.target as HTMLInputElement;
    const { value } = box;
    if (value === typedOf(this.entry(assessment))) return void this.tell(assessment, '');
    const read = withTyped(this.entry(assessment), value, { points: a.points, marks: a.marks });
    if ('message' in read) return void this.tell(assessment, read.message);
    this.tell(assessment, '');
    box.value = typedOf(read.entry);
    this.setCell(assessment, { entry: read.entry });
  }

  protected handIn(assessment: string, at: string | null | undefined): void {
    if (at === undefined) return;
    this.tell(assessment, '');
    this.setCell(assessment, { entry: withReceived(this.entry(assessment), at) });
  }

  protected release(assessment: string, released: boolean): void {
    this.setCell(assessment, { released });
  }

  protected lookAt(at: string | null | undefined): void {
    if (at !== undefined) this.set({ asOf: at });
  }

  protected extra(event: Event): void {
    const { value } = event.target as HTMLInputElement;
    const hours = value.trim() === '' ? 0 : amountIn(value);
    if (hours === null || hours > 10_000) return void this.tell('', `“${value.trim()}” is no number of hours.`);
    this.tell('', '');
    this.set({ extraTimeHours: hours });
  }
}
