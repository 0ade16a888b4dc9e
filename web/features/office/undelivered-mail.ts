import { ChangeDetectionStrategy, Component, computed, inject, resource, signal } from '@angular/core';
import { counted } from '@core/words/count';
import type { Undelivered } from '@contract/mail';
import { Api, messageOf } from '../../data/api';
import { StatusBar } from '../../ui/layout/status-bar';
import { dayAndTime } from '../../ui/text/dates';

/** Mails shown before one asks for more. */
const SHOWN = 8;

/** Mail that reached nobody, with the reason, to be sent again; nothing where all of it went. */
@Component({
  selector: 'lt-undelivered-mail',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (page(); as p) {
      @if (p.inAll > 0) {
        <section aria-labelledby="undelivered-title">
          <h2 id="undelivered-title">{{ title() }}</h2>
          <ul>
            @for (m of shown(); track m.id) {
              <li>
                <span
                  ><b>{{ m.to }}</b> · <span class="mono">{{ m.address }}</span> · {{ m.subject }}</span
                >
                <span class="quiet">{{ when(m.madeAt) }}, tried {{ times(m.tries) }}. {{ m.fault }}</span>
                <span class="acts">
                  <button type="button" class="word" [disabled]="busy()" (click)="send([m.id])">send it again</button>
                </span>
              </li>
            }
          </ul>
          <p class="acts">
            @if (p.mails.length > shown().length) {
              <button type="button" class="word" (click)="all.set(true)">
                show {{ p.mails.length - shown().length }} more
              </button>
            }
            @if (p.mails.length > 1) {
              <button type="button" class="word" [disabled]="busy()" (click)="sendAll()">
                send all {{ p.mails.length }} again
              </button>
            }
            @if (p.inAll > p.mails.length) {
              <span class="quiet">and {{ p.inAll - p.mails.length }} earlier</span>
            }
          </p>
        </section>
      }
      @if (p.waiting > 0) {
        <p class="quiet">{{ waiting() }}</p>
      }
    }
  `,
  styleUrl: './trouble-list.css',
})
export class UndeliveredMail {
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly list = resource({ loader: () => this.api.get<Undelivered>('/undelivered') });
  protected readonly page = computed(() => (this.list.hasValue() ? this.list.value() : null));
  protected readonly all = signal(false);
  protected readonly busy = signal(false);
  protected readonly shown = computed(() => (this.page()?.mails ?? []).slice(0, this.all() ? undefined : SHOWN));
  protected readonly title = computed(() => `${counted(this.page()?.inAll ?? 0, 'mail')} could not be delivered`);
  protected readonly waiting = computed(
    () => `${counted(this.page()?.waiting ?? 0, 'mail waits', 'mails wait')} to be sent.`,
  );

  protected times(tries: number): string {
    return tries === 1 ? 'once' : `${tries} times`;
  }

  protected when(at: string): string {
    return dayAndTime(at, Intl.DateTimeFormat().resolvedOptions().timeZone);
  }

  protected sendAll(): Promise<void> {
    return this.send((this.page()?.mails ?? []).map((m) => m.id));
  }

  /** Asked twice it is sent once: the server leaves what waits already. */
  protected async send(mails: string[]): Promise<void> {
    this.busy.set(true);
    try {
      await this.api.send('POST', '/undelivered/send', { mails });
      this.statusBar.announce('It is being sent again.');
    } catch (error) {
      this.statusBar.announce(messageOf(error), 'trouble');
    } finally {
      this.busy.set(false);
      this.list.reload();
    }
  }
}
