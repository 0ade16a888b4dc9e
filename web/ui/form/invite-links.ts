import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { csvText } from '@core/export/csv';
import { Counted } from '../../ui/text/counted';
import type { Invitations } from '@contract/accounts';
import { save } from '../chart/picture-file';
import { dayAndYear } from '../text/dates';

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/**
 * Links just made, to be handed on: copied, as a file, or on slips of paper. They are here until one is done with them;
 * of each only a hash is kept.
 */
@Component({
  selector: 'lt-invite-links',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted],
  template: `
    <section class="notice" aria-label="Invitations">
      <p>
        <b>{{ links().length | counted: 'invitation' }}.</b>
        Each link works once, until {{ until() }}. The links stay here until you are done or close the page.
        @if (mailed() > 0) {
          {{ mailed() }} went by mail; who has no address is handed theirs.
        }
      </p>
      <p class="acts">
        <button type="button" class="word" (click)="copy()">{{ copied() ? 'copied' : 'copy them all' }}</button>
        <button type="button" class="word" (click)="file()">save as a file</button>
        <button type="button" class="word" (click)="print()">print slips</button>
        @if (unmailed()) {
          <button type="button" class="word" [disabled]="busy()" (click)="mail.emit()">send them by mail</button>
        }
        <button type="button" class="word" (click)="leave.emit()">done</button>
      </p>
      <ul>
        @for (l of links(); track l.login) {
          <li>
            <b>{{ l.name }}</b> <span class="quiet">{{ l.login }}</span> <code class="mono">{{ whole(l.path) }}</code>
            @if (l.mailed) {
              <span class="quiet">by mail</span>
            }
          </li>
        }
      </ul>
      <div class="slips" aria-hidden="true">
        @for (l of links(); track l.login) {
          <div class="one">
            <b>{{ l.name }}</b>
            <p>Open this address, once, and choose a password. It works until {{ day(l.until) }}.</p>
            <span class="mono address">{{ whole(l.path) }}</span>
            <p>
              Afterwards you sign in as <b>{{ l.login }}</b> at {{ origin }}
            </p>
          </div>
        }
      </div>
    </section>
  `,
  styles: `
    ul {
      list-style: none;
      margin: 6px 0 0;
      padding: 0;
      max-height: 180px;
      overflow: auto;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 10px;
    }
    code,
    .address {
      font-size: 12px;
      overflow-wrap: anywhere;
    }
    .acts {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 16px;
    }
    .slips {
      display: none;
    }
    @media print {
      .slips {
        display: grid;
        grid-template-columns: 1fr 1fr;
      }
      .one {
        break-inside: avoid;
        border: 1px dashed #888;
        padding: 14px 16px;
        min-height: 150px;
      }
      .one p {
        margin: 6px 0;
      }
    }
  `,
})
export class InviteLinks {
  readonly links = input.required<Invitations['invitations']>();
  readonly busy = input(false);
  readonly leave = output<void>();
  /** They are to go by mail too: made anew, since of these only hashes are kept. */
  readonly mail = output<void>();
  protected readonly mailed = computed(() => this.links().filter((l) => l.mailed).length);
  protected readonly unmailed = computed(() => this.mailed() === 0);
  protected readonly copied = signal(false);
  protected readonly origin = location.origin;
  protected readonly until = computed(() => this.day(this.links()[0]?.until ?? ''));
  private readonly text = computed(() =>
    this.links()
      .map((l) => `${l.name}\t${l.login}\t${this.whole(l.path)}`)
      .join('\n'),
  );

  protected day(at: string): string {
    return at === '' ? '' : dayAndYear(at, ZONE);
  }

  protected whole(path: string): string {
    return `${this.origin}${path}`;
  }

  protected async copy(): Promise<void> {
    await navigator.clipboard.writeText(this.text());
    this.copied.set(true);
  }

  protected file(): void {
    const text = csvText([
      ['Name', 'Sign-in name', 'Link, works once', 'Until'],
      ...this.links().map((l) => [l.name, l.login, this.whole(l.path), this.day(l.until)]),
    ]);
    save('invitations.csv', new Blob([text], { type: 'text/csv;charset=utf-8' }));
  }

  /** The slips alone go on paper. */
  protected print(): void {
    document.body.classList.add('prints-slips');
    globalThis.addEventListener('afterprint', () => document.body.classList.remove('prints-slips'), { once: true });
    globalThis.print();
  }
}
