import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { span } from '@core/working/wording';
import type { Submission } from '@contract/work/submissions';
import { fullDay } from '../../ui/text/dates';
import { Counted } from '../../ui/text/counted';
import { shortHash } from '../../ui/text/file-words';

/** What a student holds of what they handed in: number, moment, files with their hashes, what was ticked. */
@Component({
  selector: 'lt-receipt',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted],
  template: `
    @let s = submission();
    <h2>
      {{ s.state === 'taken-back' ? 'Taken back' : s.state === 'moved' ? 'Moved to where it belongs' : 'Handed in' }}
    </h2>
    <p class="number mono">{{ s.receipt }}</p>
    <p>{{ moment() }}</p>
    <p class="quiet">{{ title() }}, {{ bookTitle() }}{{ before() ? ' · ' + before() : '' }}</p>
    <ul>
      @for (f of s.files; track f.id) {
        <li>
          <b>{{ f.name }}</b>
          <small class="mono">{{ f.bytes | counted: 'byte' }} · {{ hash(f.sha256!) }}</small>
        </li>
      }
      @if (s.typed.trim() !== '') {
        <li>
          <b>Text</b><small class="mono">{{ s.typed.length | counted: 'character' }}</small>
        </li>
      }
      @if (s.link.trim() !== '') {
        <li>
          <b>Link</b><small class="mono">{{ s.link }}</small>
        </li>
      }
    </ul>
    @if (s.statement) {
      <p>“{{ s.statement }}” ticked</p>
    }
    <p>It is kept where a back-up holds it, and your teachers can find it by its number.</p>
    <p class="acts">
      <button type="button" class="word" (click)="print()">print</button>
      @if (s.state === 'handed-in' && mayTakeBack()) {
        <button type="button" class="word" (click)="takenBack.emit()">take it back</button>
      }
    </p>
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
      background: var(--paper);
      border: 1px solid var(--rule);
      border-top: 4px solid var(--ink);
      padding: 20px 18px;
    }
    h2 {
      font-size: 24px;
    }
    .number {
      font-size: 22px;
      font-weight: 700;
      letter-spacing: 0.08em;
    }
    ul {
      list-style: none;
      margin: 8px 0;
      padding: 0;
      border-block: 1px solid var(--ink);
    }
    li {
      display: grid;
      padding: 8px 0;
      border-bottom: 1px solid var(--rule);
      overflow-wrap: anywhere;
    }
    li:last-child {
      border: 0;
    }
    small {
      color: var(--pencil);
      font-size: 12px;
    }
    .acts {
      display: flex;
      gap: 22px;
      margin-top: 8px;
    }
    @media print {
      .acts {
        display: none;
      }
    }
  `,
})
export class Receipt {
  readonly submission = input.required<Submission>();
  readonly title = input.required<string>();
  readonly bookTitle = input.required<string>();
  readonly due = input<string | null>(null);
  readonly zone = input('UTC');
  readonly mayTakeBack = input(false);
  readonly takenBack = output<void>();
  protected readonly hash = shortHash;
  protected readonly moment = computed(() => {
    const at = this.submission().handedInAt!;
    const seconds = new Date(at).toLocaleTimeString('en-GB', { timeZone: this.zone(), hour12: false });
    return `${fullDay(at, this.zone())}, ${seconds}`;
  });
  protected readonly before = computed(() => {
    const [at, due] = [this.submission().handedInAt, this.due()];
    if (!at || due === null) return '';
    const left = Date.parse(due) - Date.parse(at);
    return left >= 0 ? `in time, ${span(left)} before it was due` : `${span(-left)} after it was due`;
  });

  protected print(): void {
    globalThis.print();
  }
}
