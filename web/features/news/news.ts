import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { counted } from '@core/words/count';
import type { Notices } from '@contract/notices';
import { messageOf } from '../../data/api';
import { News } from '../../data/news';
import { sessionFeature } from '../../data/session';
import { Breadcrumbs } from '../../ui/layout/breadcrumbs';
import { StatusBar } from '../../ui/layout/status-bar';
import { dayAndTime } from '../../ui/text/dates';

type Notice = Notices[number];
/** As many as the server tells at once. */
const MOST = 100;

/** What a person was told about their books, the latest first: read once, it stays in the list. */
@Component({
  selector: 'lt-news',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main class="sheet">
      <h1>What is new</h1>
      <p class="quiet">
        {{ about() }}
        @if (news.fresh().length > 1) {
          <button type="button" class="word" (click)="readAll()">all of it is read</button>
        }
      </p>
      @if (problem()) {
        <p class="problem" role="alert">
          {{ problem() }} <button type="button" class="word" (click)="load()">Try again</button>
        </p>
      }
      <ul>
        @for (n of shown(); track n.id) {
          <li [class.fresh]="!n.seen">
            <p class="quiet">
              <b>{{ n.bookTitle }}</b> · {{ when(n) }}{{ n.by ? ' · ' + n.by : '' }}
            </p>
            @if (n.kind === 'letter') {
              <b>{{ first(n.text) }}</b>
              <p class="words">{{ rest(n.text) }}</p>
            } @else {
              <p class="words">{{ n.text }}</p>
            }
            <p class="acts">
              @if (n.path) {
                <button type="button" class="word" (click)="go(n)">{{ GOES[n.kind] }}</button>
              }
              @if (!n.seen) {
                <button type="button" class="word" (click)="read(n)">read</button>
              }
            </p>
          </li>
        }
      </ul>
    </main>
  `,
  styles: `
    :host {
      display: block;
      overflow: auto;
      font-size: 14px;
    }
    main {
      width: min(46rem, 100% - 16px);
      margin: 14px auto 24px;
      padding: 20px 22px;
    }
    h1 {
      font-size: 24px;
    }
    ul {
      list-style: none;
      margin: 10px 0 0;
      padding: 0;
    }
    li {
      display: grid;
      gap: 2px;
      padding: 10px 0 10px 12px;
      border-top: 1px solid var(--rule);
      border-left: 3px solid transparent;
    }
    .fresh {
      border-left-color: var(--blue);
    }
    .words {
      white-space: pre-line;
      overflow-wrap: anywhere;
    }
    .acts {
      display: flex;
      gap: 18px;
    }
  `,
})
export class NewsPage {
  protected readonly news = inject(News);
  private readonly router = inject(Router);
  private readonly statusBar = inject(StatusBar);
  private readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  protected readonly problem = signal('');
  protected readonly GOES: Record<Notice['kind'], string> = {
    told: 'look at it',
    letter: 'go to it',
    question: 'answer it',
    answer: 'read the answer',
    arrival: 'look at the work',
  };
  /** Work that came in one after the other for one assessment is one entry. */
  protected readonly shown = computed(() => {
    const entries: (Notice & { ids: string[] })[] = [];
    for (const n of this.news.list() ?? []) {
      const last = entries.at(-1);
      const place = (x: Notice): string => `${x.kind} ${x.path.split('?')[0]} ${x.seen}`;
      if (last && n.kind === 'arrival' && place(last) === place(n))
        entries[entries.length - 1] = { ...last, text: `${last.text}\n${n.text}`, by: null, ids: [...last.ids, n.id] };
      else entries.push({ ...n, ids: [n.id] });
    }
    return entries;
  });
  protected readonly about = computed(() => {
    const list = this.news.list();
    if (!list) return this.problem() ? '' : 'Opening …';
    if (list.length === 0)
      return 'Nobody has told you anything yet. What is released, answered or written to you stands here.';
    const n = this.news.fresh().length;
    const words = n === 0 ? 'All of it is read.' : `${counted(n, 'thing is', 'things are')} unread.`;
    return list.length < MOST ? words : `${words} The latest ${MOST} stand here.`;
  });

  constructor() {
    inject(Breadcrumbs).set(this.me()?.school ?? '', 'What is new');
    void this.load();
  }

  protected async load(): Promise<void> {
    this.problem.set('');
    try {
      await this.news.load();
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  protected first = (text: string): string => text.split('\n', 1)[0]!;
  protected rest = (text: string): string => text.slice(this.first(text).length).trim();

  protected when(n: Notice): string {
    return dayAndTime(n.at, n.timeZone);
  }

  protected read(n: { ids: string[] }): Promise<void> {
    return this.readThese(n.ids);
  }

  protected readAll(): Promise<void> {
    return this.readThese(this.news.fresh().map((n) => n.id));
  }

  private async readThese(ids: string[]): Promise<void> {
    try {
      await this.news.read(ids);
    } catch (error) {
      this.statusBar.announce(messageOf(error), 'trouble');
    }
  }

  protected async go(n: Notice & { ids: string[] }): Promise<void> {
    if (!n.seen) await this.read(n);
    await this.router.navigateByUrl(n.path);
  }
}
