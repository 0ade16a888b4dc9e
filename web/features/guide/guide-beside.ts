import { ChangeDetectionStrategy, Component, effect, inject, linkedSignal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router } from '@angular/router';
import { Drawer } from 'primeng/drawer';
import { filter, map } from 'rxjs';
import { GuidePlace, guidePlace } from '../../ui/layout/guide-place';
import { GuideReader } from './guide-reader';

/** The guide beside the page that is open, at what belongs to it. The page can be worked on meanwhile. */
@Component({
  selector: 'lt-guide-beside',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Drawer, GuideReader],
  template: `
    <p-drawer
      position="right"
      header="Guide"
      [modal]="false"
      [dismissible]="false"
      [visible]="true"
      (visibleChange)="$event || guide.open.set(false)"
      [style]="{ width: 'min(27rem, 100vw)', marginTop: '46px', height: 'calc(100% - 46px)' }"
    >
      <lt-guide-reader [place]="place()" (went)="place.set($event)" />
      <p class="more">
        <a [attr.href]="'/guide/' + place()" target="_blank" rel="noopener">as a page of its own, to print</a>
      </p>
    </p-drawer>
  `,
  styles: `
    .more {
      margin-top: 12px;
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
