import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { InputText } from 'primeng/inputtext';
import { Api, messageOf } from '../../data/api';
import { homeOf, SessionActions, sessionFeature } from '../../data/session';
import { Mark } from '../../ui/layout/mark';

/** Where an invitation's link leads: its bearer chooses a password and is signed in with it. */
@Component({
  selector: 'lt-welcome',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, InputText, Mark],
  host: { '(window:hashchange)': 'anew()' },
  template: `
    <main>
      <div class="name"><lt-mark />Last Tally</div>
      <form class="sheet" aria-labelledby="title" (submit)="$event.preventDefault(); choose()">
        <h1 id="title">Choose a password</h1>
        @if (secret() === '') {
          <p class="problem" role="alert">This link is not whole. Open it just as it was sent to you.</p>
        } @else if (login(); as name) {
          <p>
            Your password is kept. Your sign-in name is <b class="mono">{{ name }}</b>; you will need both.
          </p>
          <p-button label="Go on" [fluid]="true" [loading]="goesOn()" (onClick)="go()" />
        } @else {
          <label for="new-password">Password, at least eight characters</label>
          <input
            pInputText
            id="new-password"
            type="password"
            autocomplete="new-password"
            maxlength="200"
            [value]="password()"
            (input)="password.set($any($event.target).value)"
          />
          <label for="new-password-again">The same once more</label>
          <input
            pInputText
            id="new-password-again"
            type="password"
            autocomplete="new-password"
            maxlength="200"
            [value]="again()"
            (input)="again.set($any($event.target).value)"
          />
          <p class="says" role="status">
            @if (problem()) {
              <span class="problem">{{ problem() }}</span>
            } @else if (hint()) {
              <span class="quiet">{{ hint() }}</span>
            }
          </p>
          <p-button type="submit" label="Keep it" [fluid]="true" [disabled]="!ready()" [loading]="busy()" />
        }
      </form>
    </main>
  `,
  styleUrl: '../../ui/layout/door.css',
})
export class WelcomePage {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly store = inject(Store);
  /** After the # of the address, so that it stands in no server's log. */
  protected readonly secret = signal(location.hash.slice(1));
  protected readonly password = signal('');
  protected readonly again = signal('');
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  protected readonly login = signal('');
  private readonly session = this.store.selectSignal(sessionFeature.selectSessionState);
  protected readonly goesOn = signal(false);

  constructor() {
    effect(() => {
      const { me, busy } = this.session();
      if (this.goesOn() && !busy) void this.router.navigateByUrl(me ? homeOf(me) : '/sign-in');
    });
  }

  protected readonly hint = computed(() =>
    this.password().length > 0 && this.password().length < 8
      ? `${8 - this.password().length} more`
      : this.again() !== '' && this.again() !== this.password()
        ? 'The two are not the same yet.'
        : '',
  );
  protected readonly ready = computed(
    () => this.password().length >= 8 && this.password() === this.again() && !this.busy(),
  );

  /** Another link opened in the same window. */
  protected anew(): void {
    if (location.hash.length < 2) return;
    this.secret.set(location.hash.slice(1));
    this.login.set('');
    this.password.set('');
    this.again.set('');
    this.problem.set('');
  }

  protected async choose(): Promise<void> {
    if (!this.ready()) return;
    this.busy.set(true);
    this.problem.set('');
    try {
      const { login } = await this.api.send<{ login: string }>('POST', '/welcome', {
        secret: this.secret(),
        password: this.password(),
      });
      history.replaceState(null, '', '/welcome');
      this.login.set(login);
      this.store.dispatch(SessionActions.signIn({ login, password: this.password() }));
    } catch (error) {
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  /** On, once it is known how the sign-in ended: before that the first page would send one to the form. */
  protected go(): void {
    this.goesOn.set(true);
  }
}
