import {
  ChangeDetectionStrategy,
  Component,
  effect,
  ElementRef,
  inject,
  input,
  linkedSignal,
  output,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { OverlayOptions } from 'primeng/api';
import { Select } from 'primeng/select';

/** One of a few: `value` is told, `text` is read. */
export interface ChoiceOption {
  value: string;
  text: string;
  disabled?: boolean;
}

/** A list of more than this has a box to find in. */
const LONG = 12;

/** One of a few, as a field or, with `inline`, as a word of a sentence. */
@Component({
  selector: 'lt-choice',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, Select],
  host: { '[class.inline]': 'inline()' },
  template: `<p-select
    [options]="$any(options())"
    optionLabel="text"
    optionValue="value"
    optionDisabled="disabled"
    [overlayOptions]="overlay"
    (onShow)="at = top()"
    (onHide)="at = null"
    [ariaLabel]="label()"
    [inputId]="boxId()"
    [filter]="options().length > LONG"
    filterBy="text"
    [ariaFilterLabel]="'Find: ' + label()"
    emptyFilterMessage="Nothing of that name."
    [virtualScroll]="options().length > 200"
    [virtualScrollItemSize]="30"
    [disabled]="fixed()"
    [styleClass]="inline() ? 'inline' : ''"
    [ngModel]="shown()"
    (ngModelChange)="choose($event)"
    [ngModelOptions]="{ standalone: true }"
  />`,
  styles: `
    :host {
      display: inline-flex;
      max-width: 100%;
      margin-inline: 1px;
    }
    :host(.inline) {
      display: inline;
    }
    p-select {
      flex: 1;
      min-width: 0;
    }
  `,
})
export class Choice {
  readonly value = input.required<string>();
  readonly options = input.required<readonly ChoiceOption[]>();
  readonly label = input.required<string>();
  readonly boxId = input('');
  readonly fixed = input(false);
  readonly inline = input(false);
  readonly chosen = output<string>();
  protected readonly LONG = LONG;
  protected readonly shown = linkedSignal(() => this.value());
  private readonly settle = effect(() => {
    // What was chosen may lead elsewhere: the field stands at what is in force.
    const shown = this.shown();
    const value = this.value();
    if (shown !== value) queueMicrotask(() => this.shown.set(this.value()));
  });

  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  /** Where the field stood when its list was opened, in pixels from the top; null while it is closed or still opens. */
  protected at: number | null = null;
  protected readonly overlay: OverlayOptions = {
    // A list closes when its field is scrolled away from under it, not by every event of scrolling.
    listener: (_event, options) =>
      options?.type === 'scroll' ? this.at !== null && Math.abs(this.top() - this.at) > 2 : options?.valid !== false,
  };

  constructor() {
    const pass = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.target === this.host) return;
      // The list would take Ctrl+Enter for Enter, and Ctrl with a letter for that letter.
      event.stopPropagation();
      const again = new KeyboardEvent('keydown', event);
      if (!this.host.dispatchEvent(again)) event.preventDefault();
    };
    this.host.addEventListener('keydown', pass, { capture: true });
  }

  protected top(): number {
    return this.host.getBoundingClientRect().top;
  }

  protected choose(value: string): void {
    if (value === this.value()) return;
    this.shown.set(value);
    this.chosen.emit(value);
  }
}

/** Things with a title as options; `none` is read where none of them is chosen. */
export const optionsOf = (things: readonly { id: string; title: string }[], none?: string): ChoiceOption[] => [
  ...(none === undefined ? [] : [{ value: '', text: none }]),
  ...things.map((t) => ({ value: t.id, text: t.title })),
];
