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
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { parse } from '@core/exact/fraction';
import { shortText } from '@core/exact/rounding';
import type { MyBook, MyBooks } from '@contract/pages';
import type { Notices } from '@contract/roster';
import { Api, saysOf } from '../state/api';
import { BookStore } from '../state/book';
import { Foot } from '../state/foot';
import { sessionFeature } from '../state/session';
import { Where } from '../state/where';
import { RangeBar } from '../ui/range-bar';
import { WorkingLines } from '../ui/working-lines';
import { dayAndTime } from '../ui/dates';

/** What a student reads: each released score with its working, and where they stand where the teacher shows it. */
@Component({
  selector: 'lt-student',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, RangeBar, WorkingLines],
  templateUrl: './student.html',
  styleUrl: './student.css',
})
export class StudentPage {
  /** The book in the address; none: the first. */
  readonly book = input<string>();
  /** An enrolment: staff look at the open book as this student does. */
  readonly asStudent = input<string>();
  protected readonly opened = inject(BookStore);
  private readonly api = inject(Api);
  private readonly foot = inject(Foot);
  private readonly router = inject(Router);
  private readonly where = inject(Where);
  private readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  protected readonly books = resource({
    params: () => (this.asStudent() ? undefined : {}),
    loader: () => this.api.get<MyBooks>('/my/books'),
  });
  protected readonly notices = resource({
    params: () => (this.asStudent() ? undefined : {}),
    loader: () => this.api.get<Notices>('/my/notices'),
  });
  protected readonly told = computed(() =>
    this.notices.hasValue() ? this.notices.value().filter((n) => !n.seen) : [],
  );
  protected readonly list = computed(() => (this.books.hasValue() ? this.books.value() : null));
  protected readonly open = resource({
    params: () => {
      const [as, open] = [this.asStudent(), this.opened.id()];
      if (as) return open ? `/books/${open}/as-student/${encodeURIComponent(as)}` : undefined;
      const book = this.book();
      return book ? `/my/books/${encodeURIComponent(book)}` : undefined;
    },
    loader: ({ params }) => this.api.get<MyBook>(params),
  });
  protected readonly page = computed(() => (this.open.hasValue() ? (this.open.value() ?? null) : null));
  protected readonly problem = computed(() =>
    this.open.error() ? saysOf(this.open.error()) : this.books.error() ? saysOf(this.books.error()) : '',
  );
  protected readonly chosen = signal<string | null>(null);
  protected readonly whole = signal(false);
  protected readonly work = computed(() => {
    const page = this.page();
    return (
      page?.work.find((w) => w.id === this.chosen()) ??
      [...(page?.work ?? [])].reverse().find((w) => w.score?.earned) ??
      page?.work[0] ??
      null
    );
  });
  protected readonly bands = computed(() => (this.page()?.standing?.scale ?? []).map((b) => b.from));

  constructor() {
    this.foot.tell('Scores stand here once your teacher has released them.');
    this.foot.keys.set([]);
    effect(() => {
      const first = this.list()?.[0];
      if (!this.asStudent() && !this.book() && first)
        untracked(() => void this.router.navigate(['/my', first.book], { replaceUrl: true }));
    });
    effect(() => {
      if (!this.asStudent()) this.where.set(this.me()?.school ?? '', this.page()?.title ?? 'My work');
    });
  }

  /** Whose eyes staff look through. */
  protected readonly whose = computed(() => {
    const p = this.opened.people().get(this.asStudent() ?? '');
    return p ? `${p.given} ${p.family}`.trim() : '';
  });

  protected async seen(id: string): Promise<void> {
    try {
      await this.api.send('PUT', `/my/notices/${id}/seen`, {});
      this.notices.reload();
    } catch (error) {
      this.foot.tell(saysOf(error), 'trouble');
    }
  }

  /** "17.5", from the exact fraction. */
  protected points(earned: string): string {
    const text = shortText(parse(earned));
    return text.includes('.') ? text : `${text}.0`;
  }

  protected at(moment: string): string {
    return dayAndTime(moment, this.page()!.timeZone);
  }

  protected number(text: string | null): number {
    return text === null ? NaN : Number(text);
  }

  /** What stands for the score where there is none, in the student's words (states.md). */
  protected stateWord(w: MyBook['work'][number]): string {
    if (w.score) {
      if (w.state === 'excused') return 'excused, does not count';
      if (w.state === 'missing') return 'missing';
      if (w.state === 'pending') return 'handed in, waits to be marked';
      if (w.state === 'awaiting') return 'awaited';
      if (w.score.earned === null) return 'nothing yet';
      return '';
    }
    if (w.state === 'excused') return 'excused, does not count';
    if (w.state === 'handed-in') return 'handed in, waits to be marked';
    if (w.state === 'missing') return 'missing';
    if (!w.due) return 'awaited';
    return `${w.due < this.page()!.asOf ? 'was due' : 'due'} ${this.at(w.due)}`;
  }
}
