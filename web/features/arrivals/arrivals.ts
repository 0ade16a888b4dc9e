import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  resource,
  signal,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { scaleLinear } from 'd3';
import { counted, formOf } from '@core/words/count';
import type { Letters } from '@contract/mail';
import { Api } from '../../data/api';
import { BookStore } from '../../data/book';
import { LastList } from '../../data/work/last-list';
import { fileName, save } from '../../ui/chart/picture-file';
import { StatusBar } from '../../ui/layout/status-bar';
import { day, dayAndTime, shownAt } from '../../ui/text/dates';
import { ArrivalList } from '../../data/work/arrival-list';
import { ARRIVAL_KINDS, type ArrivalKind, type ArrivalRow } from '../../data/work/arrival-rows';
import { arrivalsCsv } from './arrivals-file';
import { ArrivalSide } from './arrival-side';
import { LetterBox } from './letter-box';
import { recipientsOf } from './letter-draft';

const DAY = 86_400_000;
/** Width of the line of days, in pixels. */
const WIDTH = 350;
/** Every student of a book with what came from them for one assessment, on a line of days. */
@Component({
  selector: 'lt-arrivals',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ArrivalSide, LetterBox, RouterLink],
  providers: [ArrivalList],
  templateUrl: './arrivals.html',
  styleUrl: './arrivals.css',
  host: { role: 'main', '(keydown)': 'key($event)' },
})
export class ArrivalsPage {
  readonly assessment = input.required<string>();
  /** Whose work is looked at first. */
  readonly student = input<string>();
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  protected readonly list = inject(ArrivalList);
  private readonly statusBar = inject(StatusBar);
  protected readonly width = WIDTH;
  protected readonly item = this.list.item;
  protected readonly zone = this.list.zone;
  protected readonly rows = this.list.rows;
  protected readonly asOf = this.list.asOf;
  private readonly letterList = resource({
    params: () => (this.store.id() ? `/books/${this.store.id()}/letters?assessment=${this.assessment()}` : undefined),
    loader: ({ params }) => this.api.get<Letters>(params),
  });
  protected readonly letters = computed(() => (this.letterList.hasValue() ? this.letterList.value() : []));
  protected readonly only = signal<ArrivalKind | 'asks' | null>(null);
  protected readonly chosen = signal('');
  protected readonly counts = computed(() =>
    ARRIVAL_KINDS.map((kind) => ({ kind, n: this.rows().filter((r) => r.kind === kind).length })).filter(
      (c) => c.n > 0,
    ),
  );
  protected readonly shown = computed(() =>
    this.rows().filter((r) => {
      const only = this.only();
      return only === null || (only === 'asks' ? r.asks : r.kind === only);
    }),
  );
  protected readonly current = computed(() => this.rows().find((r) => r.enrolment === this.chosen()) ?? null);

  /** The days that are drawn: from the first that came to the last, with the due day within. */
  private readonly span = computed((): [number, number] => {
    const moments = this.rows().flatMap((r) => r.submissions.map((s) => Date.parse(s.handedInAt ?? s.begunAt)));
    const dues = this.rows().flatMap((r) => (r.due === null ? [] : [Date.parse(r.due)]));
    const all = [...moments, ...dues, ...(moments.length + dues.length === 0 ? [Date.parse(this.list.arrivals()?.asOf ?? '2026-01-01T00:00:00Z')] : [])]; // prettier-ignore
    const local = all.map((at) => shownAt(at, this.zone()));
    const from = Math.floor(Math.min(...local) / DAY) * DAY - DAY;
    const to = Math.ceil(Math.max(...local) / DAY) * DAY + DAY;
    // A single one that is far away would press the others together.
    return [Math.max(from, to - 60 * DAY), to];
  });
  private readonly x = computed(() => scaleLinear(this.span(), [6, WIDTH - 6]).clamp(true));
  protected readonly days = computed(() => {
    const [from, to] = this.span();
    const step = Math.max(1, Math.ceil((to - from) / DAY / 8));
    return Array.from({ length: Math.floor((to - from) / DAY / step) + 1 }, (_, n) => from + n * step * DAY)
      .filter((at) => this.x()(at) < WIDTH - 30)
      .map((at) => ({ x: this.x()(at), word: day(at + DAY / 2, 'UTC') }));
  });
  protected readonly dueLine = computed(() => {
    const due = this.item()?.due;
    return due ? this.place(due) : null;
  });

  /** Where a moment stands on the line. */
  private place(at: string): number {
    return this.x()(shownAt(Date.parse(at), this.zone()));
  }

  /** What is drawn of a student: their ticks, what is late, their own due date. */
  protected ticks(r: ArrivalRow) {
    const due = r.due === null ? null : this.place(r.due);
    return {
      own: r.ownDue ? due : null,
      marks: r.submissions
        .filter((s) => s.state !== 'taken-back')
        .map((s) => {
          const x = this.place(s.handedInAt ?? s.begunAt);
          const late = s.handedInAt !== null && r.due !== null && Date.parse(s.handedInAt) > Date.parse(r.due);
          return { id: s.id, x, hollow: s.state === 'begun', from: late ? due : null };
        }),
    };
  }

  constructor() {
    effect(() => this.list.assessment.set(this.assessment()));
    effect(() => {
      this.list.heard();
      untracked(() => this.letterList.reload());
    });
    effect(() => {
      const first = this.shown()[0];
      if (first && untracked(this.chosen) === '') this.chosen.set(untracked(this.student) ?? first.enrolment);
    });
    // What was told, such as that a letter is written, is not talked over by the list that follows it.
    effect(() => this.statusBar.setIdle(this.waitWords(), false));
    this.statusBar.keys.set([{ key: '↑ ↓', label: 'from student to student' }]);
    const lastList = inject(LastList);
    effect(() => {
      const [book, assessment] = [this.store.id(), this.assessment()];
      const shown = new Set(this.shownIds());
      const hidden = this.rows().filter((r) => !shown.has(r.enrolment));
      lastList.set({
        ...{ book, list: `the list of ${this.item()?.title ?? ''}`, words: `all but ${this.onlyWords()}` },
        ...{ enrolments: new Set(hidden.map((r) => r.enrolment)) },
        path: ['/book', book, 'assessments', assessment, 'arrivals'],
      });
    });
  }

  private waitWords(): string {
    const waiting = this.rows().filter((r) => r.kind === 'to mark');
    if (waiting.length === 0) return this.rows().length > 0 ? 'Nothing waits to be marked.' : '';
    const first = waiting.flatMap((r) => r.submissions.flatMap((s) => s.handedInAt ?? [])).sort()[0];
    const since = first ? `, the longest since ${day(first, this.zone())}` : '';
    return `${waiting.length} ${formOf(waiting.length, 'waits', 'wait')} to be marked${since}`;
  }

  protected readonly about = computed(() => {
    const item = this.item();
    if (!item) return '';
    const n = this.rows().length;
    const listed = this.only() === null ? `${n} of ${counted(n, 'student')} listed, ${this.store.veiled() ? 'names hidden' : 'by name'}` : `${this.shown().length} of ${counted(n, 'student')} listed: ${this.onlyWords()} alone`; // prettier-ignore
    return [`of ${item.points}`, item.due ? `due ${this.when(item.due)}` : 'no due date', listed].join(' · ');
  });

  private readonly onlyWords = computed(() => (this.only() === 'asks' ? 'with a question' : (this.only() ?? '')));

  protected when(at: string): string {
    return dayAndTime(at, this.zone());
  }

  /** The list as it is shown, as a file. */
  protected save(): void {
    const item = this.item();
    const people = new Map((this.store.page()?.students ?? []).map((s) => [s.id, s]));
    const text = arrivalsCsv(this.shown(), people, this.list.arrivals()?.presence === true);
    save(
      fileName(`${this.store.page()?.title ?? ''} ${item?.title ?? ''} came in`, 'csv'),
      new Blob([text], { type: 'text/csv;charset=utf-8' }),
    );
  }

  protected readonly asks = computed(() => this.rows().filter((r) => r.asks).length);
  /** How many have nothing in and can be written to now. */
  protected readonly toRemind = computed(() => recipientsOf(this.rows(), this.letters(), this.asOf()).nothing.length);
  /** Who is written to; empty: all who have nothing in; null: nobody. */
  protected readonly writing = signal<string[] | null>(null);
  protected readonly shownIds = computed(() => this.shown().map((r) => r.enrolment));

  protected exception(make: string) {
    return { make, assessment: this.assessment(), student: this.shownIds().join(',') };
  }

  protected filterBy(kind: ArrivalKind | 'asks'): void {
    this.only.update((now) => (now === kind ? null : kind));
    if (!this.shownIds().includes(this.chosen())) this.chosen.set(this.shownIds()[0] ?? '');
  }

  protected key(event: KeyboardEvent): void {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    event.preventDefault();
    const rows = this.shown();
    const at = rows.findIndex((r) => r.enrolment === this.chosen());
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)))];
    if (!next) return;
    this.chosen.set(next.enrolment);
    document.getElementById(`row-${next.enrolment}`)?.scrollIntoView({ block: 'nearest' });
  }
}
