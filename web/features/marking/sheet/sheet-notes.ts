import { computed, effect, inject, Injectable, resource, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { debounceTime, filter } from 'rxjs';
import type { EndNoteWords } from '@contract/work/feedback';
import { Api, messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import { LiveStream } from '../../../data/live/live-stream';
import { ArrivalList } from '../../../data/work/arrival-list';
import { NoteAppender } from '../../../data/work/outbox/note-appender';
import { NoteOutbox, noteKey, type NotePlace } from '../../../data/work/outbox/note-outbox';

/** Milliseconds that news of notes are gathered. */
const GATHERED = 600;

/** What the end notes of one assessment say, and short comments that are added to them. For one page. */
@Injectable()
export class SheetNotes {
  private readonly api = inject(Api);
  private readonly store = inject(BookStore);
  private readonly list = inject(ArrivalList);
  private readonly outbox = inject(NoteOutbox);
  private readonly appender = inject(NoteAppender);
  private readonly loaded = resource({
    params: () => {
      const [book, assessment] = [this.store.id(), this.list.assessment()];
      return book && assessment ? `/books/${book}/assessments/${assessment}/end-notes` : undefined;
    },
    loader: ({ params }) => this.api.get<EndNoteWords>(params),
  });
  private readonly last = signal<EndNoteWords>([]);
  readonly problem = computed(() => (this.loaded.error() ? messageOf(this.loaded.error()) : ''));
  private readonly words = computed(() => new Map(this.last().map((n) => [`${n.enrolment} ${n.work}`, n.words])));
  /** What was added here and is not in the list yet, by the note. */
  private readonly added = signal<ReadonlyMap<string, string>>(new Map());

  constructor() {
    effect(() => {
      if (!this.loaded.hasValue()) return;
      this.last.set(this.loaded.value());
      this.added.set(new Map());
    });
    inject(LiveStream)
      .events.pipe(
        filter(
          (e) =>
            e.book === this.store.id() &&
            (e.kind === 'hello' ||
              (e.kind === 'feedback' && e.note !== null && e.assessment === this.list.assessment())),
        ),
        debounceTime(GATHERED),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.loaded.reload());
  }

  of(place: NotePlace): string {
    const [words, added] = [this.words().get(`${place.enrolment} ${place.work}`), this.added().get(noteKey(place))];
    return [words, added].filter(Boolean).join(' ');
  }

  refusal(place: NotePlace): string {
    return this.outbox.refusal(place);
  }

  /** Somebody is about to write. */
  prepare(place: NotePlace): Promise<void> {
    return this.appender.prepare(place);
  }

  /** Adds words as a paragraph of their own. False: what that needs is not there yet. */
  async add(place: NotePlace, words: string): Promise<boolean> {
    if (!(await this.appender.add(place, words))) return false;
    const key = noteKey(place);
    this.added.update((all) => new Map(all).set(key, [all.get(key), words].filter(Boolean).join(' ')));
    return true;
  }
}
