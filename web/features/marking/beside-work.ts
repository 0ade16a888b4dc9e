import { ChangeDetectionStrategy, Component, effect, inject, input, output } from '@angular/core';
import type { Submission } from '@contract/work/submissions';
import { BookStore } from '../../data/book';
import { WorkMarks } from '../../data/work/work-marks';
import { WorkView } from './work-view';

/** Another piece of work beside the one that is marked, with the marks on it: an attempt before, or an example. It is read and not marked. */
@Component({
  selector: 'lt-beside-work',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [WorkView],
  providers: [WorkMarks],
  template: `
    <lt-work-view [book]="store.id()" [submission]="submission()" [marks]="marks.shown()" [mayMark]="false">
      <p class="came">
        <b>{{ label() }}</b>
        <button type="button" class="word" (click)="left.emit()">close</button>
      </p>
    </lt-work-view>
  `,
  styles: `
    :host {
      display: grid;
      min-width: 0;
      min-height: 0;
      border-left: 1px solid var(--ink);
    }
    .came {
      margin: 0;
      display: flex;
      gap: 12px;
      white-space: nowrap;
    }
  `,
})
export class BesideWork {
  readonly submission = input.required<Submission>();
  /** Whose it is, or which attempt. */
  readonly label = input.required<string>();
  readonly left = output();
  protected readonly store = inject(BookStore);
  protected readonly marks = inject(WorkMarks);

  constructor() {
    effect(() => {
      const [book, submission] = [this.store.id(), this.submission().id];
      this.marks.place.set(book ? { book, submission } : null);
    });
  }
}
