import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Counted, Form } from '../ui/text/counted';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { Dialog } from 'primeng/dialog';
import { signal } from '@angular/core';
import { GuideBeside } from '../features/guide/guide-beside';
import { GuidePlace } from '../ui/layout/guide-place';
import { Outbox } from '../data/outbox';
import { UnreadableEntries } from '../data/unreadable-entries';
import { homeOf, SessionActions, sessionFeature } from '../data/session';
import { Breadcrumbs } from '../ui/layout/breadcrumbs';
import { Mark } from '../ui/layout/mark';
import { CommandPaletteView } from './command-palette';

/** The dark head of every page: the name, where one is, who is signed in. */
@Component({
  selector: 'lt-head',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(document:keydown.f1)': 'toggleGuide($event)' },
  imports: [Counted, Form, GuideBeside, RouterLink, Mark, Dialog, Button, CommandPaletteView],
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
        <a class="who" routerLink="/settings" title="Your settings">{{ person.name }}</a>
        <button type="button" (click)="leave()">Sign out</button>
      }
    </header>
    @if (guide.open() && !inGuide()) {
      @defer (on immediate) {
        <lt-guide-beside />
      }
    }
    <p-dialog
      header="Not everything is kept yet"
      [modal]="true"
      [visible]="asking()"
      (visibleChange)="asking.set($event)"
      [closable]="false"
      [style]="{ width: '26rem' }"
    >
      <p>
        {{ waiting() | counted: 'change is' : 'changes are' }} still only on this machine. Signing out removes
        {{ waiting() | form: 'it' : 'them' }} from here, so {{ waiting() | form: 'it' : 'they' }} would be lost.
      </p>
      <ng-template #footer>
        <p-button label="Stay and keep trying" (onClick)="asking.set(false)" />
        <p-button label="Sign out and lose them" severity="danger" [text]="true" (onClick)="leaveAnyway()" />
      </ng-template>
    </p-dialog>
  `,
  styles: `
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
  protected readonly guide = inject(GuidePlace);
  /** The page is the guide itself. */
  protected readonly inGuide = computed(() => this.breadcrumbs.path()[0]?.label === 'Guide');
  protected readonly outbox = inject(Outbox);
  protected readonly breadcrumbs = inject(Breadcrumbs);
  private readonly store = inject(Store);
  protected readonly me = this.store.selectSignal(sessionFeature.selectMe);
  protected readonly home = computed(() => (this.me() ? homeOf(this.me()!) : '/sign-in'));
  protected readonly asking = signal(false);
  protected readonly waiting = signal(0);
  private readonly unreadable = inject(UnreadableEntries);

  protected toggleGuide(event?: Event): void {
    event?.preventDefault();
    if (this.inGuide()) return;
    this.guide.asked.set(null);
    this.guide.open.update((open) => !open);
  }

  protected leave(): void {
    // What was typed and could not be read waits here too.
    this.waiting.set(this.outbox.count() + this.unreadable.count(this.me()?.id ?? ''));
    if (this.waiting() > 0) this.asking.set(true);
    else this.store.dispatch(SessionActions.signOut());
  }

  protected async leaveAnyway(): Promise<void> {
    this.asking.set(false);
    await this.outbox.clear();
    this.unreadable.clear(this.me()?.id ?? '');
    this.store.dispatch(SessionActions.signOut());
  }
}
