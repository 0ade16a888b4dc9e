import { counted } from '@core/words/count';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { Store } from '@ngrx/store';
import { filter, map } from 'rxjs';
import { messageOf } from '../data/api';
import { BookStore } from '../data/book';
import { StatusBar } from '../ui/layout/status-bar';
import { BookAnnotations } from '../data/annotations';
import { Live } from '../data/live/live';
import { Outbox } from '../data/outbox/outbox';
import { MarkOutbox } from '../data/work/outbox/mark-outbox';
import { NoteOutbox } from '../data/work/outbox/note-outbox';
import { UnreadableEntries } from '../data/outbox/unreadable-entries';
import { sessionFeature } from '../data/session';
import { plainBook, veiledAddress } from '../data/veil';
import { Breadcrumbs } from '../ui/layout/breadcrumbs';

/** Tabs that have pages without names too. */
const WITHOUT_NAMES = ['assessments', 'marking', 'exceptions'];

/** A book with its pages as tabs. It opens the book for all of them. */
@Component({
  selector: 'lt-book-frame',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, RouterLinkActive, RouterOutlet],
  template: `
    <nav class="tabs" aria-label="Pages of this book">
      @for (tab of tabs(); track tab.path) {
        <a [routerLink]="['/book', bookOf(tab.path), tab.path]" routerLinkActive="on" ariaCurrentWhenActive="page"
          >{{ tab.label }}
          @if (tab.count) {
            <b>{{ tab.count }}</b>
          }
        </a>
      }
    </nav>
    @if (store.problem()) {
      <main class="sheet">
        <p class="problem" role="alert">
          {{ store.problem() }} <button type="button" class="word" (click)="open()">Try again</button>
        </p>
      </main>
    } @else {
      @if (store.page()?.archived) {
        <p class="notice">
          This book is put away: it is read and not changed. On the page People its teacher takes it out again.
        </p>
      }
      <router-outlet (deactivate)="statusBar.leavePage()" />
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto auto 1fr;
      padding: 8px 16px 0;
      min-height: 0;
      grid-template-columns: minmax(0, 1fr);
    }
    :host ::ng-deep > *:last-child {
      min-height: 0;
    }
    .notice {
      grid-row: 2;
    }
    :host ::ng-deep > *:last-child {
      grid-row: 3;
    }
    router-outlet {
      display: none;
    }
    .tabs {
      isolation: isolate;
      display: flex;
      gap: 3px;
      align-items: end;
      overflow-x: auto;
      scrollbar-width: none;
    }
    .tabs a {
      padding: 6px 9px;
      background: var(--tab);
      color: var(--ink);
      text-decoration: none;
      font-weight: 600;
      border-radius: 7px 7px 0 0;
      white-space: nowrap;
    }
    .tabs a.on {
      background: var(--paper);
      box-shadow: inset 0 -2px var(--ink);
    }
    .tabs b {
      margin-left: 6px;
      color: var(--blue-text);
      font-family: var(--mono);
    }
    main {
      padding: 16px;
    }
    @media (max-height: 520px) {
      :host {
        padding-top: 2px;
      }
      .tabs a {
        padding-block: 2px;
      }
    }
    @media (max-width: 600px) {
      :host {
        padding: 6px 0 0;
      }
      .tabs {
        padding-left: 6px;
      }
    }
  `,
})
export class BookFrame {
  readonly book = input.required<string>();
  protected readonly store = inject(BookStore);
  protected readonly statusBar = inject(StatusBar);
  private readonly breadcrumbs = inject(Breadcrumbs);
  private readonly outbox = inject(Outbox);
  private readonly notes = inject(NoteOutbox);
  private readonly marks = inject(MarkOutbox);
  private readonly live = inject(Live);
  private readonly annotations = inject(BookAnnotations);
  private readonly unreadable = inject(UnreadableEntries);
  private readonly me = inject(Store).selectSignal(sessionFeature.selectMe);

  protected readonly tabs = computed(() => [
    { path: 'ledger', label: 'Ledger', count: 0 },
    { path: 'assessments', label: 'Assessments', count: 0 },
    { path: 'marking', label: 'Marking', count: this.store.waitingInAll() },
    { path: 'people', label: 'People', count: 0 },
    { path: 'exceptions', label: 'Exceptions', count: 0 },
    { path: 'rules', label: 'Rules', count: 0 },
    ...(this.store.mayManage() ? [{ path: 'intake', label: 'Intake', count: 0 }] : []),
    { path: 'release', label: 'Release', count: this.store.drafts() },
    { path: 'closing', label: 'Closing', count: 0 },
    { path: 'journal', label: 'Journal', count: 0 },
  ]);

  constructor() {
    effect(() => {
      this.book();
      untracked(() => this.open());
    });
    effect(() => {
      const page = this.store.page();
      const me = this.me();
      if (page && me)
        this.breadcrumbs.set(
          me.school,
          { label: page.term, link: me.role === 'administrator' ? '/office' : '/desk' },
          page.title,
        );
    });
    effect(() => this.tellLine());
    effect(() => {
      // From the line that the sheet was loaded at, so that nothing between is missed.
      if (this.store.loaded() > 0 && this.store.cells()) this.live.follow(this.store.id(), this.store.seq());
    });
    inject(DestroyRef).onDestroy(() => this.live.leave());
    const router = inject(Router);
    const address = toSignal(
      router.events.pipe(
        filter((e) => e instanceof NavigationEnd),
        map(() => router.url),
      ),
      { initialValue: router.url },
    );
    effect(() => {
      const page = this.store.page();
      const to = page ? veiledAddress(address(), page.assessments) : null;
      if (to !== null && this.store.id() === this.book())
        untracked(() => void router.navigateByUrl(to, { replaceUrl: true }));
    });
  }

  /** Where work is looked at without names, these tabs are of it; the others lead back to the book. */
  protected bookOf(path: string): string {
    return WITHOUT_NAMES.includes(path) ? this.book() : plainBook(this.book());
  }

  protected open(): void {
    const me = this.me()?.id ?? '';
    this.unreadable.open(me, this.book());
    void this.store.open(this.book(), me);
    void this.notes.open();
    void this.marks.open();
    this.annotations.load(this.book()).catch((error: unknown) => this.statusBar.announce(messageOf(error), 'trouble'));
  }

  /** What is not kept yet outweighs whatever else the foot says. */
  private tellLine(): void {
    const line = this.outbox.line();
    if (this.outbox.storageFailing() && this.outbox.unkept().size > 0)
      return untracked(() =>
        this.statusBar.announce(
          'This machine keeps nothing on its disk: leave this page open until all is kept by the server.',
          'trouble',
        ),
      );
    if (line === 'up') return;
    const cells = this.outbox.unkept().size;
    if (cells === 0) return;
    const what = `${counted(cells, 'cell is', 'cells are')} not kept yet`;
    untracked(() =>
      this.statusBar.announce(
        line === 'signed-out'
          ? `${what}: you are signed out. Sign in again in another window, then type on; nothing is lost.`
          : line === 'slow'
            ? `${what}: the server takes its time. It is waited for; nothing typed is lost.`
            : `${what}: the server does not answer. Trying again; nothing typed is lost.`,
        'trouble',
      ),
    );
  }
}
