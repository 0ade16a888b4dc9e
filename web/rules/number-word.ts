import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';

/** A number inside a sentence that can be changed where it stands: typed, or by the arrow keys. */
@Component({
  selector: 'lt-number-word',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<span [class.changed]="changed()"
      ><input
        type="text"
        inputmode="decimal"
        autocomplete="off"
        [attr.aria-label]="label()"
        [disabled]="fixed()"
        [value]="value()"
        [style.width.ch]="width()"
        (change)="typed($event)"
        (keydown)="step($event)"
      />{{ unit() }}</span
    >{{ after() }}`,
  styles: `
    span {
      white-space: nowrap;
      color: var(--teal);
      font-weight: 700;
      border-bottom: 1px dotted var(--teal);
    }
    span.changed {
      color: var(--plum);
      background: var(--plum-wash);
      border-bottom-color: var(--plum);
    }
    input {
      border: 0;
      background: none;
      padding: 0;
      text-align: right;
      font: inherit;
      color: inherit;
    }
    input:disabled {
      color: inherit;
      opacity: 1;
    }
    :host-context(table) input {
      text-align: right;
    }
  `,
})
export class NumberWord {
  readonly value = input.required<number>();
  readonly label = input.required<string>();
  readonly unit = input('');
  readonly least = input(0);
  readonly most = input(1_000_000);
  readonly whole = input(false);
  readonly fixed = input(false);
  /** The value that is in force, where another is tried. */
  readonly was = input<number>();
  /** Punctuation right after the word. */
  readonly after = input('');
  protected readonly changed = computed(() => this.was() !== undefined && this.was() !== this.value());
  readonly said = output<number>();
  protected readonly width = computed(() => String(this.value()).length + 0.15);

  protected typed(event: Event): void {
    const box = event.target as HTMLInputElement;
    const value = Number(box.value.trim().replace(',', '.').replace(/\s*%$/, ''));
    const sound = box.value.trim() !== '' && Number.isFinite(value) && Math.round(value * 10_000) / 10_000 === value;
    if (!sound || (this.whole() && !Number.isInteger(value)) || value < this.least() || value > this.most())
      box.value = String(this.value());
    else if (value !== this.value()) this.said.emit(value);
  }

  protected step(event: KeyboardEvent): void {
    const by = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
    if (by === 0) return;
    event.preventDefault();
    const next = Math.min(this.most(), Math.max(this.least(), this.value() + by));
    if (next !== this.value()) this.said.emit(next);
  }
}
