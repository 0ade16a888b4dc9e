import { ChangeDetectionStrategy, Component, computed, inject, input, model, output, viewChild } from '@angular/core';
import { Dialog } from 'primeng/dialog';
import type { AssessmentLine } from '@core/import/new-assessment';
import { BookStore } from '../../../data/book';
import { AssessmentMaker } from '../../../data/assessment-maker';
import { NewAssessmentLine } from '../../../ui/form/new-assessment';

/** The line in which an assessment is made, over the ledger. */
@Component({
  selector: 'lt-new-column',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Dialog, NewAssessmentLine],
  providers: [AssessmentMaker],
  template: `
    <p-dialog
      header="Make an assessment"
      [modal]="true"
      closeAriaLabel="Leave it"
      [(visible)]="open"
      [style]="{ width: '44rem' }"
      (onShow)="line()?.focus()"
      (onHide)="left.emit()"
    >
      @if (open()) {
        <lt-new-assessment
          [context]="context()"
          [zone]="zone()"
          [busy]="maker.busy()"
          [failure]="maker.failure()"
          (changed)="maker.failure.set('')"
          (wanted)="make($event)"
        />
      }
    </p-dialog>
  `,
})
export class NewColumn {
  readonly open = model(false);
  readonly usual = input<string | null>(null);
  readonly made = output<{ id: string; title: string }>();
  readonly left = output<void>();
  protected readonly maker = inject(AssessmentMaker);
  protected readonly context = computed(() => this.maker.context(this.usual()));
  private readonly store = inject(BookStore);
  protected readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');
  protected readonly line = viewChild(NewAssessmentLine);

  protected async make(line: AssessmentLine): Promise<void> {
    const id = await this.maker.make(line);
    if (id !== null) this.made.emit({ id, title: line.title });
  }
}
