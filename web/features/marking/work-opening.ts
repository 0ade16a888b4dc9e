import { effect, inject, Injectable } from '@angular/core';
import type { Submission } from '@contract/work/submissions';
import { BookStore } from '../../data/book';
import { ArrivalList } from '../../data/work/arrival-list';
import { MarkingList } from './list/marking-list';
import { OpenedNotes } from './opened-notes';
import { ShownWork } from './shown-work';

/** Milliseconds that somebody's work lies there before it counts as opened: whoever only steps by opens nothing. */
const OPENED_AFTER = 600;

/** Notes, for all, that one opened the work that is shown, and that one looked it through. For one page. */
@Injectable()
export class WorkOpening {
  private readonly store = inject(BookStore);
  private readonly list = inject(ArrivalList);
  private readonly people = inject(MarkingList);
  private readonly shown = inject(ShownWork);
  private readonly notes = inject(OpenedNotes);

  constructor() {
    effect((onCleanup) => {
      const s = this.shown.submission();
      if (!s || s.state === 'begun' || !this.store.id()) return;
      const timer = setTimeout(() => void this.noteOpened(s.id), OPENED_AFTER);
      onCleanup(() => clearTimeout(timer));
    });
  }

  lookedThrough(s: Submission): void {
    if (s.state === 'handed-in') void this.noteOpened(s.id, true);
  }

  /** Also in one's own list, whenever the stream of news is there. */
  private async noteOpened(work: string, through = false): Promise<void> {
    const enrolment = this.people.chosen();
    const isNew = await this.notes.note(this.store.id(), work, through);
    if (isNew) this.list.noteOpened({ enrolment, work, by: 'you', through });
  }
}
