import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { InputText } from 'primeng/inputtext';

/** A number inside a sentence that can be changed where it stands: typed, or by the arrow keys. */
@Component({
  selector: 'lt-number-word',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [InputText],
  template: `<span [class.changed]="changed()"
      ><input
        pInputText
        #box
        type="text"
        inputmode="decimal"
        autocomplete="off"
        [attr.aria-label]="label()"
        [disabled]="fixed()"
        [style.width.ch]="width()"
        (input)="typed()"
        (change)="settle()"
        (keydown)="step($event)"
      />{{ unit() }}</span
    >{{ after() }}`,
  styleUrl: './word.css',
  styles: `
    span {
      white-space: nowrap;
    }
    input {
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
  /** Another value is in force. */
  readonly changed = input(false);
  /** Punctuation right after the word. */
  readonly after = input('');
  /** Each sound number as it is typed. */
  readonly said = output<number>();
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  private readonly length = signal(1);
  protected readonly width = computed(() => Math.max(1, this.length()) + 0.2);

  constructor() {
    effect(() => {
      const value = this.value();
      // What is being typed ("7." on the way to "7.5") is left as it is typed.
      if (this.read() !== value) this.show(value);
    });
  }

  private show(value: number): void {
    this.box().nativeElement.value = String(value);
    this.length.set(String(value).length);
  }

  private read(): number | null {
    const text = this.box().nativeElement.value.trim().replace(',', '.').replace(/\s*%$/, '');
    if (!/^\d+\.?\d*$|^\.\d+$/.test(text)) return null;
    const value = Number(text);
    const sound = Math.round(value * 10_000) / 10_000 === value && (!this.whole() || Number.isInteger(value));
    return sound && value >= this.least() && value <= this.most() ? value : null;
  }

  protected typed(): void {
    this.length.set(this.box().nativeElement.value.length);
    const value = this.read();
    if (value !== null && value !== this.value()) this.said.emit(value);
  }

  /** What is no number goes back to the last one that was. */
  protected settle(): void {
    this.show(this.read() ?? this.value());
  }

  protected step(event: KeyboardEvent): void {
    const by = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
    if (by === 0) return;
    event.preventDefault();
    const next = Math.min(this.most(), Math.max(this.least(), this.value() + by));
    if (next !== this.value()) this.said.emit(Math.round(next * 10_000) / 10_000);
  }
}
