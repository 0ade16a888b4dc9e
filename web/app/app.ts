import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { NavigationEnd, Router, RouterOutlet } from '@angular/router';
import { toSignal } from '@angular/core/rxjs-interop';
import { filter, map } from 'rxjs';
import { StatusBarView } from './status-bar';
import { Head } from './head';
import { KeysSheet } from './keys-sheet';
import { StatusBar } from '../ui/layout/status-bar';

@Component({
  selector: 'lt-root',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterOutlet, Head, StatusBarView, KeysSheet],
  template: `
    @if (!bare()) {
      <lt-head />
    }
    <div class="page"><router-outlet (deactivate)="statusBar.leavePage()" /></div>
    @if (!bare()) {
      <lt-foot-bar />
      <lt-keys-sheet />
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      height: 100dvh;
    }
    .page {
      flex: 1;
      min-height: 0;
      overflow: auto;
      display: grid;
    }
    .page ::ng-deep > *:not(router-outlet) {
      min-height: 0;
      min-width: 0;
    }
    router-outlet {
      display: none;
    }
  `,
})
export class App {
  protected readonly statusBar = inject(StatusBar);
  private readonly router = inject(Router);
  /** Sign-in and the choice of a password stand alone; until the first page is known nothing is drawn around it. */
  protected readonly bare = toSignal(
    this.router.events.pipe(
      filter((e) => e instanceof NavigationEnd),
      map((e) => /^\/(sign-in|welcome|begin|forgotten)\b/.test(e.urlAfterRedirects)),
    ),
    { initialValue: true },
  );
}
