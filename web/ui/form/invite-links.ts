import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { Counted } from '../../ui/text/counted';
import type { Invitations } from '@contract/accounts';

/** Links just made, to be handed on: they are shown once, and only a hash of each is kept. */
@Component({
  selector: 'lt-invite-links',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted],
  template: `
    <section class="notice" aria-label="Invitations">
      <p>
        <b>{{ links().length | counted: 'invitation' }}.</b>
        Each link works once, for fourteen days; it is shown here only now.
        <button type="button" class="word" (click)="copy()">{{ copied() ? 'copied' : 'copy them all' }}</button>
        <button type="button" class="word" (click)="leave.emit()">done</button>
      </p>
      <ul>
        @for (l of links(); track l.login) {
          <li>
            <b>{{ l.name }}</b> <span class="quiet">{{ l.login }}</span> <code class="mono">{{ whole(l.path) }}</code>
          </li>
        }
      </ul>
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
    code {
      font-size: 12px;
      overflow-wrap: anywhere;
    }
    p {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 10px;
    }
  `,
})
export class InviteLinks {
  readonly links = input.required<Invitations['invitations']>();
  readonly leave = output<void>();
  protected readonly copied = signal(false);
  private readonly text = computed(() =>
    this.links()
      .map((l) => `${l.name}\t${l.login}\t${this.whole(l.path)}`)
      .join('\n'),
  );

  protected whole(path: string): string {
    return `${location.origin}${path}`;
  }

  protected async copy(): Promise<void> {
    await navigator.clipboard.writeText(this.text());
    this.copied.set(true);
  }
}
