import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { Button } from 'primeng/button';
import { Textarea } from 'primeng/textarea';

/** What students tick before they hand in, where a book says nothing else. */
@Component({
  selector: 'lt-school-statement',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, Textarea],
  template: `
    <form (submit)="$event.preventDefault(); said.emit(words.value)">
      <label for="school-statement">Ticked before handing in, where a book says nothing else</label>
      <textarea
        pTextarea
        #words
        id="school-statement"
        rows="2"
        maxlength="500"
        placeholder="nothing"
        [value]="statement()"
      ></textarea>
      <p-button type="submit" label="Keep it" [loading]="busy()" />
    </form>
  `,
  styles: `
    form {
      display: grid;
      gap: 8px;
      justify-items: start;
      padding: 12px 14px;
      background: var(--side);
      border: 1px solid var(--rule);
    }
    textarea {
      width: 100%;
    }
  `,
})
export class SchoolStatement {
  readonly statement = input.required<string>();
  readonly busy = input(false);
  readonly said = output<string>();
}
