import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { Submission } from '@contract/work/submissions';
import { Api } from '../../data/api';
import { ArrivalList } from '../../data/work/arrival-list';
import { BookStore } from '../../data/book';
import type { ArrivalRow } from '../../data/work/arrival-rows';
import { keepPinned, keptPinned } from './kept-settings';
import { MarkingList } from './list/marking-list';

/** A piece of work that stands as an example for others, and whose it is. */
export interface Example {
  row: ArrivalRow;
  submission: Submission;
}

/** Work for one assessment that one has chosen as examples, to look at beside the work of others. For one page. */
@Injectable()
export class Examples {
  private readonly api = inject(Api);
  private readonly store = inject(BookStore);
  private readonly list = inject(ArrivalList);
  private readonly people = inject(MarkingList);
  private readonly place = computed(() => `${this.api.person()} ${this.store.id()} ${this.list.assessment()}`);
  /** Ids of submissions, in the order in which they were chosen. */
  private readonly pinned = signal<readonly string[]>([]);
  readonly all = computed((): Example[] =>
    this.pinned().flatMap((id) => {
      for (const row of this.people.rows()) {
        const submission = row.submissions.find((s) => s.id === id && s.state === 'handed-in');
        if (submission) return [{ row, submission }];
      }
      return [];
    }),
  );

  constructor() {
    effect(() => {
      const place = this.place();
      untracked(() => this.pinned.set(keptPinned(place)));
    });
  }

  isPinned(id: string): boolean {
    return this.pinned().includes(id);
  }

  /** Makes work an example, or one no more. */
  toggle(id: string): void {
    this.pinned.update((all) => (all.includes(id) ? all.filter((x) => x !== id) : [...all, id]));
    keepPinned(this.place(), this.pinned());
  }
}
