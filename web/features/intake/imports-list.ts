import { counted } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, inject, output, resource } from '@angular/core';
import { Counted } from '../../ui/text/counted';
import type { Batches } from '@contract/scores';
import type { PutBackMade, PutBackWrite } from '@contract/history';
import { Api, ApiProblem, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { dayAndTime } from '../../ui/text/dates';

/** What was brought into the book before, each of which can be put back as one. */
@Component({
  selector: 'lt-brought-in',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted],
  template: `
    <h2>Brought in before</h2>
    @for (b of earlier(); track b.id) {
      <div class="batch">
        <b>{{ b.title }}</b>
        <span class="quiet">{{ b.cells | counted: 'score' }} · {{ b.madeBy }} · {{ when(b.madeAt) }}</span>
        @if (b.undone) {
          <span class="quiet">put back</span>
        } @else {
          <button type="button" class="word" (click)="putBack(b.id)" [attr.aria-label]="'put back ' + b.title">
            put back
          </button>
        }
      </div>
    } @empty {
      <p class="quiet">Nothing was brought into this book yet.</p>
    }
  `,
  styles: `
    h2 {
      margin-bottom: 10px;
    }
    .batch {
      display: grid;
      grid-template-columns: 1fr auto;
      gap: 2px 10px;
      padding: 8px;
    }
    .batch b {
      grid-column: 1 / -1;
      overflow-wrap: anywhere;
    }
    .batch:nth-of-type(odd) {
      background: var(--bar);
    }
  `,
})
export class ImportsList {
  readonly failed = output<string>();
  private readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  private readonly batches = resource({
    params: () => this.store.id(),
    loader: ({ params }) =>
      params === '' ? Promise.resolve([] as Batches) : this.api.get<Batches>(`/books/${params}/batches`),
  });
  protected readonly earlier = computed(() =>
    this.batches.hasValue() ? this.batches.value().filter((b) => b.kind === 'intake') : [],
  );

  protected async putBack(batch: string): Promise<void> {
    this.failed.emit('');
    try {
      const made = await this.operations.submit<PutBackMade>(
        'POST',
        `/books/${this.store.id()}/journal/${batch}/put-back`,
        {
          leaveLater: false,
          reason: '',
        } satisfies Omit<PutBackWrite, 'operation'>,
      );
      this.batches.reload();
      await this.store.reload();
      this.statusBar.announce(`${counted(made.cells.length, 'cell is as it was', 'cells are as they were')} before.`);
    } catch (error) {
      this.failed.emit(this.saysWhich(error));
    }
  }

  /** A refused undo names the cells in its way. */
  private saysWhich(error: unknown): string {
    const cells =
      error instanceof ApiProblem && error.code === 'cannot-undo'
        ? ((error.now ?? []) as { assessment: string; enrolment: string }[])
        : [];
    const named = cells
      .slice(0, 6)
      .map(
        (c) =>
          `${this.store.people().get(c.enrolment)?.family ?? '?'} in ${this.store.titles()[c.assessment] ?? c.assessment}`,
      );
    return named.length === 0
      ? messageOf(error)
      : `${messageOf(error)} ${named.join('; ')}${cells.length > 6 ? ` and ${cells.length - 6} more` : ''}.`;
  }

  protected when(at: string): string {
    return dayAndTime(at, this.store.page()?.timeZone ?? 'UTC');
  }
}
