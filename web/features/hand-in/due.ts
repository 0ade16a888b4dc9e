import { ChangeDetectionStrategy, Component, computed, inject, resource } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { counted } from '@core/words/count';
import type { DueList } from '@contract/work/submissions';
import type { StudentBooks } from '@contract/statements';
import type { OwnThreads } from '@contract/work/threads';
import { Api, messageOf } from '../../data/api';
import { News } from '../../data/news';
import { retryFailed } from '../../data/retry-failed';
import { sessionFeature } from '../../data/session';
import { Breadcrumbs } from '../../ui/layout/breadcrumbs';
import { save } from '../../ui/chart/picture-file';
import { NewsLine } from '../../ui/layout/news-line';
import { StatusBar } from '../../ui/layout/status-bar';
import { soon } from '../../ui/text/dates';
import { DaysLine } from './days-line';

type Work = DueList['work'][number];
/** What is to be done about it, and what waits for nobody any more. */
const OPEN = ['open', 'overdue'];

/** What is due in all of a student's books, soonest first, and their books. */
@Component({
  selector: 'lt-due',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DaysLine, NewsLine, RouterLink],
  templateUrl: './due.html',
  styleUrl: './due.css',
})
export class DuePage {
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  protected readonly due = resource({ loader: () => this.api.get<DueList>('/my/due') });
  private readonly threads = resource({ loader: () => this.api.get<OwnThreads>('/my/threads') });
  protected readonly books = resource({ loader: () => this.api.get<StudentBooks>('/my/books') });
  private readonly news = inject(News);
  protected readonly told = this.news.fresh;
  protected readonly list = computed(() => (this.due.hasValue() ? this.due.value() : null));
  protected readonly bookList = computed(() => (this.books.hasValue() ? this.books.value() : []));
  protected readonly open = computed(() => (this.list()?.work ?? []).filter((w) => OPEN.includes(w.state)));
  protected readonly rest = computed(() =>
    (this.list()?.work ?? []).filter((w) => w.takesWork && !OPEN.includes(w.state)),
  );
  protected readonly problem = computed(() => {
    const error = this.due.error() ?? this.books.error();
    return error ? messageOf(error) : '';
  });

  constructor() {
    retryFailed(this.due, this.threads, this.books);
    this.statusBar.setIdle('What is due stands here, and what came back in each book.');
    inject(Breadcrumbs).set(this.me()?.school ?? '', 'What is due');
    // Without it all else stands here; what is new is asked for on its own page.
    this.news.load().catch(() => undefined);
  }

  /** What is due as a file for one's calendar. */
  protected async saveCalendar(): Promise<void> {
    try {
      const { dueCalendar } = await import('./due-calendar');
      const text = dueCalendar(this.list()!, location.origin);
      save('due.ics', new Blob([text], { type: 'text/calendar' }));
    } catch (error) {
      this.statusBar.announce(`The calendar could not be made: ${messageOf(error)}`, 'trouble');
    }
  }

  protected when(w: Work): string {
    return w.due === null ? '' : soon(w.due, this.list()!.asOf, w.timeZone);
  }

  protected about(w: Work): string {
    const how = w.takesWork
      ? w.kinds.length === 3
        ? 'handed in here'
        : w.kinds.map((k) => (k === 'link' ? 'a link' : k)).join(' or ')
      : w.elsewhere === 'tool'
        ? 'in another tool'
        : 'on paper or in the room';
    return `${w.bookTitle} · of ${w.points} · ${how}`;
  }

  protected whenWords(w: Work): string {
    if (w.state === 'overdue') return `was due ${this.when(w)}`;
    return w.again ? `open again until ${this.when(w)}` : this.when(w);
  }

  /** What became of a question; '' where none was asked. */
  protected questionWords(w: Work): string {
    const threads = this.threads.hasValue() ? this.threads.value() : [];
    const thread = threads.find((t) => t.book === w.book && t.assessment === w.assessment);
    return thread ? (thread.unanswered ? 'your question is not answered yet' : 'your question is answered') : '';
  }

  protected lying(w: Work): string {
    return w.lying === 0 ? '' : `${counted(w.lying, 'part lies', 'parts lie')} here, not handed in`;
  }

  protected stateWord(w: Work): string {
    return { 'handed-in': 'handed in', excused: 'excused', missing: 'nothing was handed in' }[w.state] ?? '';
  }
}
