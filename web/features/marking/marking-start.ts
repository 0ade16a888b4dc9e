import { ChangeDetectionStrategy, Component, computed, effect, inject, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { BookStore } from '../../data/book';
import { bookFor } from '../../data/veil';
import { isLeaving } from '../../ui/layout/leaving';
import { day } from '../../ui/text/dates';
import { firstWaiting } from './list/marking-order';

/** Where a book's marking begins: straight at the first work that waits, else at the choice of an assessment. */
@Component({
  selector: 'lt-marking-start',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  host: { role: 'main' },
  template: `
    <div class="sheet">
      <h1>Marking</h1>
      @if (store.cells()) {
        <p class="quiet">
          {{ lines().length === 0 ? 'There is no assessment yet.' : 'Nothing waits to be marked. All assessments:' }}
        </p>
      }
      <ul>
        @for (a of lines(); track a.id) {
          <li>
            <a class="word" [routerLink]="['/book', bookFor(store.id(), a), 'marking', a.id]">{{ a.title }}</a>
            <span class="quiet">of {{ a.points }}{{ a.due ? ' · due ' + when(a.due) : '' }}</span>
          </li>
        }
      </ul>
    </div>
  `,
  styles: `
    .sheet {
      padding: 18px 26px;
      height: 100%;
      overflow: auto;
    }
    ul {
      list-style: none;
      padding: 0;
      display: grid;
      gap: 8px;
      margin: 14px 0 0;
    }
    li {
      display: flex;
      gap: 12px;
    }
  `,
})
export class MarkingStartPage {
  protected readonly store = inject(BookStore);
  protected readonly bookFor = bookFor;
  protected readonly lines = computed(() => this.store.page()?.assessments ?? []);

  constructor() {
    const router = inject(Router);
    effect(() => {
      const first = firstWaiting(this.lines(), this.store.waitingBy());
      if (first && !isLeaving(router))
        untracked(
          () =>
            void router.navigate(['/book', bookFor(this.store.id(), first), 'marking', first.id], { replaceUrl: true }),
        );
    });
  }

  protected when(at: string): string {
    return day(at, this.store.page()?.timeZone ?? 'UTC');
  }
}
