import {
  ChangeDetectionStrategy,
  Component,
  effect,
  type ElementRef,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { Textarea } from 'primeng/textarea';
import { InputText } from 'primeng/inputtext';
import { Button } from 'primeng/button';
import { Dialog } from 'primeng/dialog';

/** What is asked for; null: nothing is. */
export interface Question {
  id: string;
  title: string;
  label: string;
  value: string;
  /** What the button does. */
  does: string;
  most: number;
  /** Several lines: Ctrl+Enter keeps them. */
  long?: boolean;
  /** Why it could not be kept, once it was tried. */
  problem?: string;
}

/** Asks for one text. Enter keeps it (Ctrl+Enter where it has several lines), Esc leaves all as it was. */
@Component({
  selector: 'lt-ask-text',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Textarea, InputText, Dialog, Button],
  template: `
    <p-dialog
      [header]="question()?.title ?? ''"
      [modal]="true"
      closeAriaLabel="Leave it"
      [visible]="question() !== null"
      (visibleChange)="$event || left.emit()"
      [style]="{ width: '28rem' }"
      (onShow)="focus()"
    >
      @if (question(); as q) {
        <div class="field">
          <label for="ask-text">{{ q.label }}</label>
          @if (q.long) {
            <textarea
              pTextarea
              #box
              id="ask-text"
              rows="5"
              [maxLength]="q.most"
              [value]="q.value"
              (input)="typed($event)"
              (keydown.control.enter)="keep()"
            ></textarea>
          } @else {
            <input
              pInputText
              #box
              id="ask-text"
              type="text"
              [maxLength]="q.most"
              [value]="q.value"
              (input)="typed($event)"
              (keydown.enter)="keep()"
            />
          }
        </div>
        @if (q.problem) {
          <p class="problem" role="alert">{{ q.problem }}</p>
        }
      }
      <ng-template #footer>
        <p-button [label]="question()?.does ?? ''" (onClick)="keep()" />
        <p-button label="Leave it" [text]="true" (onClick)="left.emit()" />
      </ng-template>
    </p-dialog>
  `,
  styles: `
    .field {
      display: grid;
      gap: 4px;
    }
    label {
      color: var(--pencil);
    }
    input,
    textarea {
      border: 1px solid var(--pencil);
      border-radius: 5px;
      padding: 6px 8px;
      background: var(--paper);
      width: 100%;
    }
    .problem {
      margin-top: 8px;
    }
  `,
})
export class AskText {
  readonly question = input.required<Question | null>();
  readonly said = output<string>();
  readonly left = output<void>();
  private readonly box = viewChild<ElementRef<HTMLInputElement>>('box');
  private readonly text = signal('');

  constructor() {
    effect(() => {
      const id = this.question()?.id;
      untracked(() => id !== undefined && !this.question()?.problem && this.text.set(this.question()!.value));
    });
  }

  protected focus(): void {
    this.box()?.nativeElement.focus();
    this.box()?.nativeElement.select();
  }

  protected typed(event: Event): void {
    this.text.set((event.target as HTMLInputElement).value);
  }

  protected keep(): void {
    const q = this.question();
    if (q && (q.long || this.text().trim() !== '')) this.said.emit(this.text().trim());
  }
}
