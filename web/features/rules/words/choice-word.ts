import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';

/** A word inside a sentence with a few others in its place; the browser's own list, so that every key works. */
@Component({
  selector: 'lt-choice-word',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<span [class.changed]="changed()"
      >{{ text()
      }}<select [attr.aria-label]="label()" [disabled]="fixed()" (change)="chosen($event)">
        @for (c of choices(); track c.value) {
          <option [value]="c.value" [selected]="c.value === value()">{{ c.text }}</option>
        }
      </select></span
    >{{ after() }}`,
  styleUrl: './word.css',
  styles: `
    span {
      position: relative;
    }
    span:focus-within {
      outline: 2px solid var(--teal);
      outline-offset: 1px;
    }
    select {
      position: absolute;
      inset: 0;
      width: 100%;
      opacity: 0;
      cursor: pointer;
      font: 13px var(--sans);
    }
    option {
      color: var(--ink);
      background: var(--paper);
    }
  `,
})
export class ChoiceWord {
  readonly value = input.required<string>();
  readonly choices = input.required<readonly { value: string; text: string }[]>();
  readonly label = input.required<string>();
  readonly fixed = input(false);
  /** Another value is in force. */
  readonly changed = input(false);
  /** Punctuation right after the word. */
  readonly after = input('');
  readonly said = output<string>();
  protected readonly text = computed(() => this.choices().find((c) => c.value === this.value())?.text ?? this.value());

  protected chosen(event: Event): void {
    const value = (event.target as HTMLSelectElement).value;
    if (value !== this.value()) this.said.emit(value);
    // What is chosen may lead elsewhere: the list stands at what the sentence says.
    (event.target as HTMLSelectElement).value = this.value();
  }
}
