import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { Choice, type ChoiceOption } from '../../../ui/form/choice';

/** A word inside a sentence with a few others in its place. */
@Component({
  selector: 'lt-choice-word',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice],
  template: `<lt-choice
      [inline]="true"
      [class.changed]="changed()"
      [label]="label()"
      [value]="value()"
      [options]="choices()"
      [fixed]="fixed()"
      (chosen)="said.emit($event)"
    />{{ after() }}`,
})
export class ChoiceWord {
  readonly value = input.required<string>();
  readonly choices = input.required<readonly ChoiceOption[]>();
  readonly label = input.required<string>();
  readonly fixed = input(false);
  /** Another value is in force. */
  readonly changed = input(false);
  /** Punctuation right after the word. */
  readonly after = input('');
  readonly said = output<string>();
}
