import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { dayAndTime, readDay } from '../text/dates';

/** A moment typed as a day ("27 Nov 17:00"), or picked; local to the book's zone. Empty: none. */
@Component({
  selector: 'lt-day-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      type="text"
      autocomplete="off"
      [attr.id]="boxId() || null"
      [value]="text()"
      [placeholder]="placeholder()"
      [attr.aria-label]="label() || null"
      [attr.aria-invalid]="wrong()"
      [disabled]="disabled()"
      (input)="typed($event)"
      (blur)="tidy()"
    />
    <button
      type="button"
      class="word"
      [disabled]="disabled()"
      [attr.aria-label]="'Pick a day: ' + label()"
      (click)="pick()"
    >
      pick
    </button>
    <input #picker class="picker" type="datetime-local" tabindex="-1" aria-hidden="true" (change)="picked($event)" />
  `,
  styles: `
    :host {
      display: inline-flex;
      align-items: baseline;
      gap: 6px;
      position: relative;
    }
    input[type='text'] {
      width: 132px;
      border: 1px solid var(--pencil);
      border-radius: 5px;
      padding: 4px 7px;
      line-height: 1.4;
      background: var(--paper);
    }
    input[aria-invalid='true'] {
      border-color: var(--red);
    }
    .picker {
      position: absolute;
      inset: auto auto 0 0;
      width: 1px;
      height: 1px;
      border: 0;
      padding: 0;
      opacity: 0;
      pointer-events: none;
    }
  `,
})
export class DayBox {
  readonly value = input<string | null>(null);
  readonly zone = input.required<string>();
  /** The moment near which a day without a year lies. */
  readonly near = input.required<string>();
  readonly boxId = input('');
  readonly label = input('');
  readonly placeholder = input('27 Nov 17:00');
  readonly disabled = input(false);
  /** The moment as RFC 3339; null: none; undefined: what is typed is no day. */
  readonly said = output<string | null | undefined>();
  private readonly picker = viewChild.required<ElementRef<HTMLInputElement>>('picker');
  protected readonly text = signal('');
  private told: string | null | undefined = null;
  protected readonly wrong = computed(() => this.text().trim() !== '' && this.read() === null);

  constructor() {
    effect(() => {
      const value = this.value();
      untracked(() => {
        if (value === this.told) return;
        this.told = value;
        this.show(value);
      });
    });
  }

  private show(value: string | null): void {
    this.text.set(value === null ? '' : dayAndTime(value, this.zone()));
  }

  private read(): string | null {
    return readDay(this.text(), this.zone(), this.near());
  }

  protected typed(event: Event): void {
    this.text.set((event.target as HTMLInputElement).value);
    this.told = this.text().trim() === '' ? null : (this.read() ?? undefined);
    this.said.emit(this.told);
  }

  /** What was understood stands in full once one goes on. */
  protected tidy(): void {
    if (this.told) this.show(this.told);
  }

  protected pick(): void {
    this.picker().nativeElement.showPicker();
  }

  protected picked(event: Event): void {
    const { value } = event.target as HTMLInputElement;
    if (value === '') return;
    this.told = readDay(value, this.zone(), this.near());
    this.show(this.told ?? null);
    this.said.emit(this.told);
  }
}
