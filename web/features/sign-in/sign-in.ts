import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Actions, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { take } from 'rxjs';
import { Button } from 'primeng/button';
import { InputText } from 'primeng/inputtext';
import { homeOf, SessionActions, sessionFeature } from '../../data/session';
import { Mark } from '../../ui/layout/mark';

@Component({
  selector: 'lt-sign-in',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, Button, InputText, Mark, RouterLink],
  template: `
    <main>
      <div class="name"><lt-mark />Last Tally</div>
      <form class="sheet" (ngSubmit)="enter(name.value, secret.value)" aria-labelledby="title">
        <h1 id="title">Sign in</h1>
        <label for="login">Sign-in name</label>
        <input
          pInputText
          id="login"
          name="login"
          autocomplete="username"
          autocapitalize="none"
          spellcheck="false"
          #name
          [(ngModel)]="login"
        />
        <label for="password">Password</label>
        <input
          pInputText
          id="password"
          name="password"
          type="password"
          autocomplete="current-password"
          #secret
          [(ngModel)]="password"
        />
        <p class="says" aria-live="assertive">
          @if (incomplete()) {
            <span class="quiet">Type your sign-in name and your password.</span>
          } @else if (session().slow) {
            <span class="quiet">{{ session().slow }}</span>
          } @else if (session().problem) {
            <span class="problem">{{ session().problem }}</span>
          }
        </p>
        <p-button type="submit" label="Sign in" [fluid]="true" [loading]="session().busy" />
        <p class="back">
          <a class="word" routerLink="/forgotten" [queryParams]="login().trim() ? { name: login().trim() } : {}"
            >I forgot my password</a
          >
        </p>
      </form>
      <p class="quiet">Every number exact and explained.</p>
    </main>
  `,
  styleUrl: '../../ui/layout/door.css',
})
export class SignInPage {
  /** The address to go on to, from the query. */
  readonly then = input<string>();
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  protected readonly session = this.store.selectSignal(sessionFeature.selectSessionState);
  protected readonly login = signal('');
  protected readonly password = signal('');
  protected readonly incomplete = signal(false);

  constructor() {
    // Once, at the form's own answer: the guards of the page gone on to look at the session too, and who went on at
    // each of those looks would chase them.
    inject(Actions)
      .pipe(ofType(SessionActions.signedIn), take(1), takeUntilDestroyed())
      .subscribe(({ me }) => {
        const then = this.then();
        // Only a path of our own; anything else would be a way out to a stranger's page.
        void this.router.navigateByUrl(then && /^\/(?!\/)/.test(then) ? then : homeOf(me));
      });
  }

  /** What stands in the boxes as Enter is pressed, however it came there. */
  protected enter(login: string, password: string): void {
    // The button is never disabled: Enter right after the last character would find it so, and be lost.
    this.incomplete.set(!login.trim() || !password);
    if (this.incomplete()) return;
    // While it is still being asked who is signed in, too; a second press during one try is none (exhaustMap).
    this.store.dispatch(SessionActions.signIn({ login, password }));
  }
}
