import { ChangeDetectionStrategy, Component, effect, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { InputText } from 'primeng/inputtext';
import { homeOf, SessionActions, sessionFeature } from '../state/session';
import { Mark } from '../ui/mark';

@Component({
  selector: 'lt-sign-in',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, Button, InputText, Mark],
  template: `
    <main>
      <div class="name"><lt-mark />Last Tally</div>
      <form class="sheet" (ngSubmit)="enter()" aria-labelledby="title">
        <h1 id="title">Sign in</h1>
        <label for="login">Sign-in name</label>
        <input
          pInputText
          id="login"
          name="login"
          autocomplete="username"
          autocapitalize="none"
          spellcheck="false"
          [(ngModel)]="login"
        />
        <label for="password">Password</label>
        <input
          pInputText
          id="password"
          name="password"
          type="password"
          autocomplete="current-password"
          [(ngModel)]="password"
        />
        <p class="says" aria-live="assertive">
          @if (session().problem) {
            <span class="problem">{{ session().problem }}</span>
          }
        </p>
        <p-button
          type="submit"
          label="Sign in"
          [fluid]="true"
          [disabled]="!login() || !password()"
          [loading]="session().busy"
        />
      </form>
      <p class="quiet">Every number exact and explained.</p>
    </main>
  `,
  styles: `
    :host {
      display: grid;
      place-items: center;
      min-height: 100%;
      background: repeating-linear-gradient(var(--board) 0 78px, var(--bar) 78px 156px);
    }
    main {
      width: min(22rem, calc(100vw - 24px));
      display: grid;
      gap: 14px;
      justify-items: center;
    }
    .name {
      display: flex;
      gap: 10px;
      align-items: center;
      font: 600 27px var(--serif);
      background: var(--board);
      padding: 2px 12px;
      border-radius: 7px;
    }
    form {
      width: 100%;
      display: grid;
      gap: 6px;
      padding: 24px;
      border-radius: 7px;
      box-shadow: 0 6px 24px #14323a1f;
    }
    h1 {
      font-size: 18px;
      margin-bottom: 6px;
    }
    label {
      font-weight: 600;
    }
    input {
      margin-bottom: 6px;
    }
    .says {
      min-height: 3.6em;
      display: grid;
      align-items: center;
    }
    .quiet {
      background: var(--board);
      padding: 2px 10px;
      border-radius: 7px;
    }
  `,
})
export class SignInPage {
  /** The address to go on to, from the query. */
  readonly then = input<string>();
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  protected readonly session = this.store.selectSignal(sessionFeature.selectSessionState);
  protected readonly login = signal('');
  protected readonly password = signal('');
  private tried = false;

  constructor() {
    effect(() => {
      const me = this.session().me;
      if (!me || !this.tried) return;
      const then = this.then();
      // Only a path of our own; anything else would be a way out to a stranger's page.
      void this.router.navigateByUrl(then && /^\/(?!\/)/.test(then) ? then : homeOf(me));
    });
  }

  protected enter(): void {
    if (!this.login() || !this.password() || this.session().busy) return;
    this.tried = true;
    this.store.dispatch(SessionActions.signIn({ login: this.login(), password: this.password() }));
  }
}
