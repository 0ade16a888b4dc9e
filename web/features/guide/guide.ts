import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import { Button } from 'primeng/button';
import { combineLatest, map } from 'rxjs';
import { Breadcrumbs } from '../../ui/layout/breadcrumbs';
import { GuideReader } from './guide-reader';

/** The guide as a page of its own, to be read and printed. */
@Component({
  selector: 'lt-guide',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, GuideReader],
  template: `
    <main class="sheet">
      <p class="acts"><p-button label="Print this page" [outlined]="true" (onClick)="print()" /></p>
      <lt-guide-reader [place]="place()" (went)="go($event)" />
    </main>
  `,
  styles: `
    :host {
      display: grid;
      padding: 16px 16px 0;
      min-height: 0;
    }
    main {
      padding: 22px 28px;
      overflow: auto;
    }
    .acts {
      float: right;
      margin-left: 16px;
    }
    @media (max-width: 600px) {
      :host {
        padding: 0;
      }
      main {
        padding: 16px;
      }
    }
    @media print {
      :host {
        display: block;
        padding: 0;
      }
      main {
        overflow: visible;
        border: 0;
        padding: 0;
      }
      .acts {
        display: none;
      }
    }
  `,
})
export class GuidePageView {
  private readonly route = inject(ActivatedRoute);
  private readonly router = inject(Router);
  private readonly at = toSignal(
    combineLatest([this.route.url, this.route.fragment]).pipe(
      map(([steps, part]) => steps.map((s) => s.path).join('/') + (part ? `#${part}` : '')),
    ),
    { initialValue: '' },
  );
  protected readonly place = computed(() => this.at());

  constructor() {
    inject(Breadcrumbs).set('Guide');
  }

  protected go(place: string): void {
    const [path, part] = place.split('#');
    void this.router.navigate(['/guide', ...path!.split('/').filter(Boolean)], part ? { fragment: part } : {});
  }

  protected print(): void {
    window.print();
  }
}
