import { computed, effect, inject, Injectable, resource, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { debounceTime, filter } from 'rxjs';
import type * as Yjs from 'yjs';
import type { EndNote, EndNoteWords } from '@contract/feedback';
import { Api, messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import { LiveStream } from '../../../data/live-stream';
import { ArrivalList } from '../../../data/work/arrival-list';
import { fromBase64, NoteOutbox, noteKey, notePath, type NotePlace } from '../../../data/work/note-outbox';

/** Milliseconds that news of notes are gathered. */
const GATHERED = 600;

/** What the end notes of one assessment say, and short comments that are added to them. For one page. */
@Injectable()
export class SheetNotes {
  private readonly api = inject(Api);
  private readonly store = inject(BookStore);
  private readonly list = inject(ArrivalList);
  private readonly outbox = inject(NoteOutbox);
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
  private yjs: typeof Yjs | null = null;
  /** Notes as they were when somebody began to write beside them. */
  private readonly docs = new Map<string, Yjs.Doc>();

  constructor() {
    effect(() => {
      if (!this.loaded.hasValue()) return;
      this.last.set(this.loaded.value());
      this.added.set(new Map());
    });
    inject(LiveStream)
      .events.pipe(
        filter((e) => e.kind === 'feedback' && e.book === this.store.id() && e.assessment === this.list.assessment()),
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

  /** Somebody is about to write: the note is fetched, so that what is added stands at its end. */
  async prepare(place: NotePlace): Promise<void> {
    this.yjs ??= await import('yjs').catch(() => null);
    if (!this.yjs) return;
    const doc = new this.yjs.Doc();
    try {
      const { state } = await this.api.get<EndNote>(notePath(place));
      this.yjs.applyUpdate(doc, fromBase64(state), 'kept');
    } catch (error) {
      // Without a line what is added stands in the note all the same, perhaps not at its end.
      console.warn('a note could not be fetched before something was added to it', error);
    }
    this.docs.set(noteKey(place), doc);
  }

  /** Adds words as a paragraph of their own. False: what that needs is not there yet. */
  async add(place: NotePlace, words: string): Promise<boolean> {
    if (!this.yjs) await this.prepare(place);
    if (!this.yjs) return false;
    const { applyUpdate, Doc, XmlElement, XmlText } = this.yjs;
    const key = noteKey(place);
    const doc = this.docs.get(key) ?? new Doc();
    for (const piece of this.outbox.unsent(place)) applyUpdate(doc, piece, 'kept');
    doc.on('update', (update: Uint8Array, origin: unknown) => {
      if (origin !== 'kept') this.outbox.put(place, update);
    });
    const paragraph = new XmlElement('paragraph');
    paragraph.insert(0, [new XmlText(words)]);
    doc.getXmlFragment('note').push([paragraph]);
    this.docs.delete(key);
    this.added.update((all) => new Map(all).set(key, [all.get(key), words].filter(Boolean).join(' ')));
    return true;
  }
}
