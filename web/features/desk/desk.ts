import { counted, formOf } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, resource, signal } from '@angular/core';
import { NgTemplateOutlet } from '@angular/common';
import { Counted } from '../../ui/text/counted';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import type { Desk, DeskLine } from '@contract/overview';
import { Api, messageOf } from '../../data/api';
import { StatusBar } from '../../ui/layout/status-bar';
import { retryFailed } from '../../data/retry-failed';
import { sessionFeature } from '../../data/session';
import { Breadcrumbs } from '../../ui/layout/breadcrumbs';
import { ago, day, dayAndTime, longDay } from '../../ui/text/dates';
import { ticksInWords, TickRail } from '../../ui/chart/tick-rail';
import { WeeksPicture } from './weeks-picture';
import type { BookList } from '@contract/books';

/** Questions shown before one asks for all. */
const QUESTIONS = 5;
/** Flags shown before one asks for all. */
const SECOND_LOOKS = 12;

/** The first page of a teacher: what waits, by book, and the books. */
@Component({
  selector: 'lt-desk',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, NgTemplateOutlet, RouterLink, TickRail, WeeksPicture],
  templateUrl: './desk.html',
  styleUrl: './desk.css',
  host: { '(keydown)': 'key($event)' },
})
export class DeskPage {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  protected readonly desk = resource({ loader: () => this.api.get<Desk>('/desk') });
  private readonly books = resource({ loader: () => this.api.get<BookList>('/books') });
  protected readonly away = computed(() =>
    this.books.hasValue() ? (this.books.value().books ?? []).filter((b) => b.archived) : [],
  );
  protected readonly problem = computed(() => (this.desk.error() ? messageOf(this.desk.error()) : ''));
  protected readonly page = computed(() => (this.desk.hasValue() ? this.desk.value() : null));
  protected readonly title = computed(() => (this.page() ? longDay(this.page()!.asOf, this.page()!.timeZone) : ''));
  /** What others changed, and what a changed calculation did, a line each. */
  protected readonly news = computed(() =>
    (this.page()?.news ?? []).flatMap((n) =>
      [
        {
          ...n,
          page: 'ledger',
          query: { only: 'news' },
          what: `${formOf(n.count, 'cell', 'cells')} changed by others`,
        },
        {
          ...n,
          page: 'journal',
          query: {},
          count: n.recalculated,
          what: `${formOf(n.recalculated, 'student has', 'students have')} another figure: the calculation changed`,
        },
      ].filter((line) => line.count > 0),
    ),
  );
  protected readonly groups = computed(() => {
    const page = this.page();
    const group = (title: string, lines: DeskLine[], act: string, to: string) =>
      lines.length === 0 ? null : { title, lines, act, to };
    return {
      toMark: group('To mark', page?.toMark ?? [], 'start', 'marking'),
      toRelease: group('To release', page?.toRelease ?? [], 'look and release', 'release'),
    };
  });
  protected readonly waits = computed(() => {
    const page = this.page();
    if (!page) return '';
    const one = [...page.questions, ...page.broken].map(({ book }) => ({ book, count: 1 }));
    const all = [...page.toMark, ...page.toRelease, ...one];
    const count = all.reduce((n, l) => n + l.count, 0);
    const books = new Set(all.map((l) => l.book)).size;
    return count === 0
      ? 'Nothing waits for you.'
      : `${counted(count, 'thing waits', 'things wait')} for you in ${counted(books, 'book')}.`;
  });
  protected readonly allQuestions = signal(false);
  protected readonly questions = computed(() =>
    (this.page()?.questions ?? []).slice(0, this.allQuestions() ? undefined : QUESTIONS),
  );
  protected readonly allSecondLooks = signal(false);
  protected readonly secondLooks = computed(() =>
    (this.page()?.secondLooks ?? []).slice(0, this.allSecondLooks() ? undefined : SECOND_LOOKS),
  );
  protected readonly words = ticksInWords;
  protected readonly day = day;
  protected readonly dayAndTime = dayAndTime;

  constructor() {
    retryFailed(this.desk, this.books);
    const me = this.me();
    inject(Breadcrumbs).set(me?.school ?? '', 'Desk');
    this.statusBar.setIdle(me ? `Signed in as ${me.name}` : '');
    const keys = [
      { key: '↑ ↓', label: 'line' },
      { key: 'Enter', label: 'open it' },
    ];
    this.statusBar.keys.set([...keys, { key: '?', label: 'all keys' }]);
    this.statusBar.sheet.set([{ title: 'The desk', keys }]);
  }

  protected readonly ago = ago;

  protected arrivals(of: { book: string; assessment: string }): string[] {
    return ['/book', of.book, 'assessments', of.assessment, 'arrivals'];
  }

  protected link(line: DeskLine, to: string): unknown[] {
    return ['/book', line.book, to, ...(to === 'marking' ? [line.assessment] : [])];
  }

  /** "8 days, Achterberg" of work that waits; "8 days ago" of drafts. */
  protected sinceWords({ since, whose }: DeskLine, asOf: string): string {
    if (since === null) return '';
    const days = ago(since, asOf);
    return whose === null ? (days === 'today' ? days : `${days} ago`) : `${days}, ${whose}`;
  }

  /** Arrows go from line to line. */
  protected key(event: KeyboardEvent): void {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    const links = [...this.host.querySelectorAll<HTMLElement>('a.line')];
    const now = links.indexOf(document.activeElement as HTMLElement);
    links[Math.min(links.length - 1, Math.max(0, now + (event.key === 'ArrowDown' ? 1 : -1)))]?.focus();
    event.preventDefault();
  }
}
