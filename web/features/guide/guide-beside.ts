import { ChangeDetectionStrategy, Component, effect, inject, linkedSignal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router } from '@angular/router';
import { filter, map } from 'rxjs';
import { GuidePlace, guidePlace } from '../../ui/layout/guide-place';
import { GuideReader } from './guide-reader';

/** The guide beside the page that is open, at what belongs to it. The page can be worked on meanwhile. */
@Component({
  selector: 'lt-guide-beside',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [GuideReader],
  host: { '(keydown.escape)': 'guide.open.set(false)' },
  template: `
    <aside aria-label="Guide">
      <p class="acts">
        <a class="word" [attr.href]="'/guide/' + place()" target="_blank" rel="noopener">as a page, to print</a>
        <button type="button" class="word" (click)="guide.open.set(false)">leave it</button>
      </p>
      <lt-guide-reader [place]="place()" (went)="place.set($event)" />
    </aside>
  `,
  styles: `
    aside {
      position: fixed;
      z-index: 900;
      inset: 46px 0 0 auto;
      width: min(27rem, 100vw);
      overflow: auto;
      padding: 12px 20px 24px;
      background: var(--paper);
      border-left: 1px solid var(--rule);
      box-shadow: -8px 0 24px #14323a1f;
    }
    .acts {
      display: flex;
      justify-content: flex-end;
      gap: 16px;
      margin-bottom: 10px;
    }
    @media print {
      :host {
        display: none;
      }
    }
  `,
})
export class GuideBeside {
  protected readonly guide = inject(GuidePlace);
  private readonly router = inject(Router);
  private readonly address = toSignal(
    this.router.events.pipe(
      filter((e) => e instanceof NavigationEnd),
      map((e) => e.urlAfterRedirects),
    ),
    { initialValue: this.router.url },
  );
  /** Goes along with the page; what was followed inside it stays until then. */
  protected readonly place = linkedSignal(() => this.guide.asked() ?? this.guide.own() ?? guidePlace(this.address()));

  constructor() {
    // Another page: what was asked for by hand is read; what belongs to the page comes.
    let page = this.router.url.split(/[?#]/)[0];
    effect(() => {
      const next = this.address().split(/[?#]/)[0];
      if (next !== page) untracked(() => this.guide.asked.set(null));
      page = next;
    });
  }
}
