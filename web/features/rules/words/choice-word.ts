import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { Choice, type ChoiceOption } from '../../../ui/form/choice';

const sameChoices = (a: readonly ChoiceOption[], b: readonly ChoiceOption[]): boolean =>
  a.length === b.length &&
  a.every((c, n) => c.value === b[n]!.value && c.text === b[n]!.text && c.disabled === b[n]!.disabled);

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
      [options]="options()"
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
  /** Each draft has its sentences made anew; a box whose choices are the same is not gone through again. */
  protected readonly options = computed(() => this.choices(), { equal: sameChoices });
}
