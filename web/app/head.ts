import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { filter } from 'rxjs';
import { Counted, Form } from '../ui/text/counted';
import { NavigationEnd, Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { signal } from '@angular/core';
import { GuideBeside } from '../features/guide/guide-beside';
import { GuidePlace } from '../ui/layout/guide-place';
import { News } from '../data/news';
import { Outbox } from '../data/outbox/outbox';
import { MarkOutbox } from '../data/work/outbox/mark-outbox';
import { NoteOutbox } from '../data/work/outbox/note-outbox';
import { UnreadableEntries } from '../data/outbox/unreadable-entries';
import { homeOf, SessionActions, sessionFeature } from '../data/session';
import { Breadcrumbs } from '../ui/layout/breadcrumbs';
import { Mark } from '../ui/layout/mark';
import { CommandPaletteView } from './command-palette';

/** The dark head of every page: the name, where one is, who is signed in. */
@Component({
  selector: 'lt-head',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(document:keydown.f1)': 'toggleGuide($event)' },
  imports: [Counted, Form, GuideBeside, RouterLink, Mark, Button, CommandPaletteView],
  template: `
    <header>
      <a class="name" [routerLink]="home()"><lt-mark />Last Tally</a>
      <nav aria-label="Where you are">
        @for (step of breadcrumbs.path(); track $index; let last = $last) {
          @if (step.link) {
            <a [routerLink]="step.link">{{ step.label }}</a>
          } @else {
            <span [class.last]="last">{{ step.label }}</span>
          }
          @if (!last) {
            <i aria-hidden="true">/</i>
          }
        }
      </nav>
      @if (me(); as person) {
        @if (person.role !== 'student') {
          <lt-jump-line />
        }
        @if (!inGuide()) {
          <button
            type="button"
            [attr.aria-pressed]="guide.open()"
            title="What belongs to this page (F1)"
            (click)="toggleGuide()"
          >
            Guide
          </button>
        }
        <a class="new" routerLink="/news" [attr.aria-label]="news.unread() + ' new'" title="What you were told">
          New
          @if (news.unread(); as n) {
            <b>{{ n }}</b>
          }
        </a>
        <a class="who" routerLink="/settings" title="Your settings">{{ person.name }}</a>
        <button type="button" (click)="leave()">Sign out</button>
      }
    </header>
    @if (guide.open() && !inGuide()) {
      @defer (on immediate) {
        <lt-guide-beside />
      }
    }
    @if (asking()) {
      <!-- Not in a box that would have to be fetched first: it is asked when the server does not answer. -->
      <section class="asks" role="dialog" aria-labelledby="asks-title" (keydown.escape)="asking.set(false)">
        <h2 id="asks-title">Not everything is kept yet</h2>
        <p>
          {{ waiting() | counted: 'change is' : 'changes are' }} still only on this machine. Signing out removes
          {{ waiting() | form: 'it' : 'them' }} from here, so {{ waiting() | form: 'it' : 'they' }} would be lost.
        </p>
        <p-button label="Stay and keep trying" [autofocus]="true" (onClick)="asking.set(false)" />
        <p-button label="Sign out and lose them" severity="danger" [text]="true" (onClick)="leaveAnyway()" />
      </section>
    }
  `,
  styles: `
    .asks {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 6px 16px;
      padding: 10px 16px;
      background: var(--paper);
      border-left: 3px solid var(--red);
      border-bottom: 1px solid var(--rule);
    }
    .asks p {
      flex: 1 1 20rem;
    }
    /* Each by itself, not the whole: what is asked for here lies over every page, and dialogs of pages over it. */
    header > :not(lt-jump-line) {
      isolation: isolate;
    }
    header {
      display: flex;
      align-items: center;
      gap: 14px;
      height: 46px;
      padding: 0 16px;
      background: var(--head);
      color: var(--on-head);
    }
    .name {
      display: flex;
      align-items: center;
      gap: 8px;
      font: 600 21px var(--serif);
      color: inherit;
      text-decoration: none;
      white-space: nowrap;
    }
    nav {
      display: flex;
      gap: 8px;
      flex: 1;
      min-width: 0;
      color: var(--on-head-quiet);
      white-space: nowrap;
      overflow: hidden;
    }
    nav a {
      color: inherit;
      text-decoration: none;
    }
    nav a:hover {
      text-decoration: underline;
    }
    nav i {
      opacity: 0.6;
      font-style: normal;
    }
    nav .last {
      color: var(--on-head);
      font-weight: 700;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .new {
      color: inherit;
      text-decoration: none;
      white-space: nowrap;
    }
    .new:hover {
      text-decoration: underline;
    }
    .new b {
      background: var(--paper);
      color: var(--blue-text);
      border-radius: 8px;
      padding: 0 6px;
      margin-left: 3px;
    }
    .who {
      font-weight: 700;
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
      color: inherit;
      text-decoration: none;
    }
    .who:hover {
      text-decoration: underline;
    }
    header > button {
      border: 0;
      background: var(--head-field);
      color: inherit;
      border-radius: 6px;
      padding: 4px 10px;
      cursor: pointer;
      white-space: nowrap;
    }
    :focus-visible {
      outline-color: var(--gold);
    }
    @media (max-height: 520px) {
      header {
        height: 36px;
      }
    }
    @media (max-width: 600px) {
      header {
        gap: 8px;
        padding: 0 8px;
      }
      .name {
        font-size: 0;
        gap: 0;
      }
      .who {
        max-width: 7em;
      }
    }
  `,
})
export class Head {
  protected readonly news = inject(News);
  protected readonly guide = inject(GuidePlace);
  /** The page is the guide itself. */
  protected readonly inGuide = computed(() => this.breadcrumbs.path()[0]?.label === 'Guide');
  protected readonly outbox = inject(Outbox);
  private readonly notes = inject(NoteOutbox);
  private readonly marks = inject(MarkOutbox);
  protected readonly breadcrumbs = inject(Breadcrumbs);
  private readonly store = inject(Store);
  protected readonly me = this.store.selectSignal(sessionFeature.selectMe);
  protected readonly home = computed(() => (this.me() ? homeOf(this.me()!) : '/sign-in'));
  protected readonly asking = signal(false);
  protected readonly waiting = signal(0);
  private readonly unreadable = inject(UnreadableEntries);

  constructor() {
    const forget = this.news.follow();
    inject(DestroyRef).onDestroy(forget);
    inject(Router)
      .events.pipe(
        filter((e) => e instanceof NavigationEnd),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.news.look());
    effect(() => {
      const id = this.me()?.id;
      untracked(() => {
        this.news.forget();
        if (id) this.news.look(true);
      });
    });
  }

  protected toggleGuide(event?: Event): void {
    event?.preventDefault();
    if (this.inGuide()) return;
    this.guide.asked.set(null);
    this.guide.open.update((open) => !open);
  }

  protected leave(): void {
    // What was typed and could not be read waits here too.
    this.waiting.set(
      this.outbox.count() + this.notes.count() + this.marks.count() + this.unreadable.count(this.me()?.id ?? ''),
    );
    if (this.waiting() > 0) this.asking.set(true);
    else this.store.dispatch(SessionActions.signOut());
  }

  protected async leaveAnyway(): Promise<void> {
    this.asking.set(false);
    await this.outbox.clear();
    await this.notes.clear();
    await this.marks.clear();
    this.unreadable.clear(this.me()?.id ?? '');
    this.store.dispatch(SessionActions.signOut());
  }
}
