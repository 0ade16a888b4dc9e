import { ChangeDetectionStrategy, Component, inject, input, linkedSignal, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import { InputText } from 'primeng/inputtext';
import type { ForgottenAnswer } from '@contract/accounts';
import { Api, messageOf } from '../../data/api';
import { Mark } from '../../ui/layout/mark';

/** Who forgot the password asks for a link by mail; the answer says nothing of who there is. */
@Component({
  selector: 'lt-forgotten',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, InputText, Mark, RouterLink],
  template: `
    <main>
      <div class="name"><lt-mark />Last Tally</div>
      <form class="sheet" aria-labelledby="title" (submit)="$event.preventDefault(); ask()">
        <h1 id="title">A new password</h1>
        @if (sent(); as to) {
          <p role="status">
            If <b>{{ to }}</b> is somebody here who has a mail address, a link is on its way there. It works once, for
            an hour.
          </p>
          <p class="quiet">Nothing came? Look among the unwanted mail, or ask the office for a link.</p>
        } @else if (noMail()) {
          <p role="status">This school sends no mail. Ask the office: it makes you a link for a new password.</p>
        } @else {
          <label for="forgotten">Sign-in name or mail address</label>
          <input
            pInputText
            id="forgotten"
            autocomplete="username"
            autocapitalize="none"
            spellcheck="false"
            maxlength="200"
            [value]="typed()"
            (input)="typed.set($any($event.target).value)"
          />
          <p class="says" aria-live="polite">
            @if (problem()) {
              <span class="problem">{{ problem() }}</span>
            }
          </p>
          <p-button
            type="submit"
            label="Send a link"
            [fluid]="true"
            [disabled]="typed().trim() === ''"
            [loading]="busy()"
          />
        }
        <p class="back"><a class="word" routerLink="/sign-in">back to signing in</a></p>
      </form>
    </main>
  `,
  styleUrl: '../../ui/layout/door.css',
})
export class ForgottenPage {
  /** What was typed at signing in. */
  readonly name = input<string>();
  private readonly api = inject(Api);
  protected readonly typed = linkedSignal(() => this.name() ?? '');
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  /** To whom a link was asked for; '' none yet. */
  protected readonly sent = signal('');
  protected readonly noMail = signal(false);

  protected async ask(): Promise<void> {
    const name = this.typed().trim();
    if (name === '' || this.busy()) return;
    this.busy.set(true);
    this.problem.set('');
    try {
      const { mails } = await this.api.send<ForgottenAnswer>('POST', '/forgotten', { name });
      this.noMail.set(!mails);
      if (mails) this.sent.set(name);
    } catch (error) {
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
