import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { InputText } from 'primeng/inputtext';
import type { Draft } from '../draft';
import type { WordPiece } from '../sentences/sentence';

/** Words inside a sentence that are typed where they stand. What cannot be taken stays, with why. */
@Component({
  selector: 'lt-text-word',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [InputText],
  template: `<span [class.changed]="changed()" [class.wrong]="message() !== ''"
      ><input
        pInputText
        type="text"
        autocomplete="off"
        spellcheck="false"
        [attr.aria-label]="piece().label"
        [attr.aria-invalid]="message() !== ''"
        [disabled]="fixed()"
        [placeholder]="piece().none ?? ''"
        [value]="typed() ?? piece().value"
        [style.width.ch]="width()"
        (input)="typed.set($any($event.target).value)"
        (change)="take($event)" /></span
    >{{ after() }}
    @if (message()) {
      <small class="problem" role="alert">{{ message() }}</small>
    }`,
  styleUrl: './word.css',
  styles: `
    span.wrong {
      border-bottom: 2px solid var(--red);
    }
    input::placeholder {
      color: inherit;
      opacity: 1;
      font-weight: inherit;
    }
    small {
      display: block;
      font: 13px var(--sans);
    }
  `,
})
export class TextWord {
  readonly piece = input.required<WordPiece>();
  readonly fixed = input(false);
  readonly changed = input(false);
  readonly after = input('');
  readonly said = output<Draft>();
  protected readonly message = signal('');
  protected readonly typed = signal<string | null>(null);
  protected readonly width = computed(() => {
    const text = this.typed() ?? (this.piece().value || (this.piece().none ?? ''));
    return Math.min(46, Math.max(2, text.length + 0.8));
  });

  protected take(event: Event): void {
    const text = (event.target as HTMLInputElement).value.trim();
    const next = text === this.piece().value ? null : this.piece().set(text);
    this.message.set(next !== null && 'message' in next ? next.message : '');
    if (next !== null && 'message' in next) return;
    this.typed.set(null);
    if (next !== null) this.said.emit(next);
  }
}
