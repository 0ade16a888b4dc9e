import { effect, inject, Injectable } from '@angular/core';
import { BookStore } from '../../data/book';
import { ReadyFiles } from '../../viewer/ready-files';
import { MarkingList } from './list/marking-list';
import { leavesOf } from './work-view';

/** Milliseconds until the next work is made ready: what is looked at comes first, and who only steps by fetches nothing. */
const AHEAD_AFTER = 250;

/** Makes the work of whoever comes next ready, by itself. For one page. */
@Injectable()
export class NextWork {
  private readonly store = inject(BookStore);
  private readonly people = inject(MarkingList);
  private readonly files = inject(ReadyFiles);

  constructor() {
    effect((onCleanup) => {
      this.people.chosen();
      if (!this.people.ready()) return;
      const timer = setTimeout(() => this.makeReady(), AHEAD_AFTER);
      onCleanup(() => clearTimeout(timer));
    });
  }

  /** The work of whoever comes next is fetched and decoded before it is asked for. */
  private makeReady(): void {
    const rows = this.people.everybody();
    const at = rows.findIndex((r) => r.enrolment === this.people.chosen());
    for (const row of [this.people.next(), rows[at + 1]]) {
      const last = row?.submissions.findLast((s) => s.state === 'handed-in');
      const first = last ? leavesOf(this.store.id(), last)[0] : undefined;
      if (first?.kind === 'file') this.files.ahead(first.file);
    }
  }
}
