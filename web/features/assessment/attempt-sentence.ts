import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { InputText } from 'primeng/inputtext';
import type { AttemptUse, Item } from '@core/book/document';
import { amountIn, amountsIn } from '../../ui/text/amount';
import { Choice } from '../../ui/form/choice';
import { WORDS } from './assessment-options';
import { withAttempts } from './draft';

type Attempts = Item['attempts'];

/** Which of several attempts counts, as a sentence. */
@Component({
  selector: 'lt-attempt-sentence',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice, InputText],
  styleUrl: './sentences.css',
  template: `
    <p>
      Of several attempts
      <lt-choice
        label="Which attempt counts"
        [value]="attempts()?.use ?? 'best'"
        [options]="WORDS.use"
        (chosen)="use($event)"
      />
      @switch (attempts()?.use) {
        @case ('decaying') {
          counts, the newest making
          <input
            pInputText
            class="small mono"
            type="text"
            inputmode="decimal"
            aria-label="What the newest attempt makes, in percent"
            [value]="kept()?.newest ?? 60"
            (input)="percent('newest', $any($event.target).value)"
          />
          % of it,
        }
        @case ('regain') {
          counts,
          <input
            pInputText
            class="small mono"
            type="text"
            inputmode="decimal"
            aria-label="What is won back, in percent"
            [value]="kept()?.regain ?? 50"
            (input)="percent('regain', $any($event.target).value)"
          />
          % of what the best later one is above it,
        }
        @default {
          counts,
        }
      }
      from the second on at most
      <input
        pInputText
        class="small mono"
        type="text"
        inputmode="decimal"
        aria-label="Cap of a retake in percent"
        placeholder="100"
        [value]="capWords()"
        (input)="cap($any($event.target).value)"
      />
      % of the points.
    </p>
  `,
})
export class AttemptSentence {
  /** As they are kept: what stands in the boxes at first. */
  readonly kept = input<Attempts>();
  /** As they are being changed. */
  readonly attempts = input<Attempts>();
  readonly changed = output<Attempts>();
  protected readonly WORDS = WORDS;

  protected capWords(): string {
    return [this.kept()?.retakeCap ?? []].flat().join(', ');
  }

  protected use(use: string): void {
    this.say({
      use: use === 'best' ? undefined : (use as AttemptUse),
      newest: use === 'decaying' ? (this.attempts()?.newest ?? 60) : undefined,
      regain: use === 'regain' ? (this.attempts()?.regain ?? 50) : undefined,
    });
  }

  /** What the newest makes, or what is won back. */
  protected percent(key: 'newest' | 'regain', text: string): void {
    this.say({ [key]: amountIn(text) ?? NaN });
  }

  protected cap(text: string): void {
    const caps = amountsIn(text);
    this.say({ retakeCap: text.trim() === '' ? undefined : caps === null ? NaN : caps.length === 1 ? caps[0] : caps });
  }

  private say(part: Parameters<typeof withAttempts>[1]): void {
    this.changed.emit(withAttempts({ attempts: this.attempts() }, part));
  }
}
