import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { Button } from 'primeng/button';
import { Dialog } from 'primeng/dialog';
import { messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { Operations } from '../../data/operations';
import { StatusBar } from '../../ui/layout/status-bar';

/** Asks whether it is to be said whose work is whose, to all who read the book; it cannot be unread. */
@Component({
  selector: 'lt-show-names',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, Dialog],
  styles: `
    /* Out of the flow: the room around it stays as it is. */
    :host {
      position: fixed;
    }
    p {
      margin: 0 0 10px;
    }
  `,
  template: `
    <p-dialog
      header="Show names"
      [modal]="true"
      closeAriaLabel="Leave it"
      [visible]="open()"
      (visibleChange)="$event || left.emit()"
      [style]="{ width: '28rem' }"
    >
      <p>
        Whose work is whose in {{ title() }} is said from now on, of all students at once and to everybody who reads
        this book. What was marked stays as it is.
      </p>
      <p class="quiet">The journal says that you showed them. Hidden again later, what was read stays read.</p>
      @if (problem()) {
        <p class="problem" role="alert">{{ problem() }}</p>
      }
      <ng-template #footer>
        <p-button label="Show all names" [loading]="busy()" (onClick)="show()" />
        <p-button label="Leave it" [text]="true" (onClick)="left.emit()" />
      </ng-template>
    </p-dialog>
  `,
})
export class ShowNames {
  readonly open = input.required<boolean>();
  readonly assessment = input.required<string>();
  readonly title = input.required<string>();
  readonly left = output();
  private readonly store = inject(BookStore);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  protected readonly busy = signal(false);
  protected readonly problem = signal('');

  protected async show(): Promise<void> {
    if (this.busy()) return;
    this.busy.set(true);
    this.problem.set('');
    try {
      const path = `/books/${this.store.plainId()}/assessments/${this.assessment()}/show-names`;
      await this.operations.submit('POST', path, {});
      this.left.emit();
      // Its page says that names are told by now; the address follows.
      await this.store.readPage();
      this.statusBar.announce(`Names are shown in ${this.title()}.`);
    } catch (error) {
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
