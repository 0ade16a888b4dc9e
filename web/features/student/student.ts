import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  resource,
  untracked,
} from '@angular/core';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Api, messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { News } from '../../data/news';
import { NewsLine } from '../../ui/layout/news-line';
import { StatusBar } from '../../ui/layout/status-bar';
import { retryFailed } from '../../data/retry-failed';
import { sessionFeature } from '../../data/session';
import { Breadcrumbs } from '../../ui/layout/breadcrumbs';
import { FollowOwn } from './follow-own';
import { StatementView } from './statement-view';
import type { StudentBook, StudentBooks } from '@contract/statements';

/** What a student reads: each released score with its working, and where they stand where the teacher shows it. */
@Component({
  selector: 'lt-student',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FollowOwn, NewsLine, RouterLink, StatementView],
  templateUrl: './student.html',
  styleUrl: './student.css',
})
export class StudentPage {
  /** The book in the address. */
  readonly book = input<string>();
  /** The assessment whose slip is asked for, in the address. */
  readonly slip = input<string>();
  /** An enrolment: staff look at the open book as this student does. */
  readonly asStudent = input<string>();
  protected readonly opened = inject(BookStore);
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly breadcrumbs = inject(Breadcrumbs);
  protected readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  protected readonly books = resource({
    params: () => (this.asStudent() ? undefined : {}),
    loader: () => this.api.get<StudentBooks>('/my/books'),
  });
  private readonly news = inject(News);
  /** Nothing of one's own while one looks as somebody else. */
  protected readonly told = computed(() => (this.asStudent() ? [] : this.news.fresh()));
  protected readonly list = computed(() => (this.books.hasValue() ? this.books.value() : null));
  protected readonly open = resource({
    params: () => {
      const [as, open] = [this.asStudent(), this.opened.id()];
      if (as) return open ? `/books/${open}/as-student/${encodeURIComponent(as)}` : undefined;
      const book = this.book();
      return book ? `/my/books/${encodeURIComponent(book)}` : undefined;
    },
    loader: ({ params }) => this.api.get<StudentBook>(params),
  });
  protected readonly page = computed(() => (this.open.hasValue() ? (this.open.value() ?? null) : null));
  protected readonly problem = computed(() =>
    this.open.error() ? messageOf(this.open.error()) : this.books.error() ? messageOf(this.books.error()) : '',
  );

  constructor() {
    retryFailed(this.open, this.books);
    this.statusBar.setIdle('Scores stand here once your teacher has released them.');
    effect(() => {
      // Without it all else stands here; what is new is asked for on its own page.
      if (!this.asStudent()) untracked(() => void this.news.load().catch(() => undefined));
    });
    effect(() => {
      if (!this.asStudent()) this.breadcrumbs.set(this.me()?.school ?? '', this.page()?.title ?? 'What came back');
    });
  }

  /** Something was released or withdrawn meanwhile. */
  protected follow(): void {
    this.open.reload();
    this.books.reload();
    void this.news.load().catch(() => undefined);
  }

  protected show(slip: string): void {
    void this.router.navigate([], { relativeTo: this.route, queryParams: { slip }, replaceUrl: true });
  }

  /** Whose eyes staff look through. */
  protected readonly whose = computed(() => {
    const p = this.opened.people().get(this.asStudent() ?? '');
    return p ? `${p.given} ${p.family}`.trim() : '';
  });
}
