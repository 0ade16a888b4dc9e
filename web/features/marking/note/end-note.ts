import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { InputText } from 'primeng/inputtext';
import * as Y from 'yjs';
import type { EndNote as EndNoteState, Phrase } from '@contract/work/feedback';
import { Api, messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import { LiveStream } from '../../../data/live/live-stream';
import { fromBase64, NoteOutbox, noteKey, notePath, type NotePlace } from '../../../data/work/outbox/note-outbox';
import { matching, PhraseBook } from '../../../data/work/phrases';
import { StatusBar } from '../../../ui/layout/status-bar';
import { WritingWithin } from '../../../ui/layout/writing-within';
import { RichTextEditor } from '../../../text/rich-text-editor';
import { SharedText } from '../../../text/shared-text';
import { MarkingList } from '../list/marking-list';
import { Dictation } from './dictation';
import { PhraseDialog } from './phrase-dialog';

/** Milliseconds until a note is fetched: whoever only steps by fetches none. */
const FETCHED_AFTER = 80;
/** Milliseconds that news of a note are gathered. */
const GATHERED = 150;

/** The end note of one piece of work, which several may write at once, and the line that phrases are put in by. */
@Component({
  selector: 'lt-end-note',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Dictation, InputText, PhraseDialog, RichTextEditor],
  templateUrl: './end-note.html',
  styleUrl: './end-note.css',
  host: { role: 'group', 'aria-label': 'At the end' },
  hostDirectives: [WritingWithin],
})
export class EndNote {
  readonly student = input.required<string>();
  readonly assessment = input.required<string>();
  readonly work = input.required<string>();
  /** The line or the text was left: the room's keys are on again. */
  readonly left = output();
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly people = inject(MarkingList);
  private readonly outbox = inject(NoteOutbox);
  protected readonly phrases = inject(PhraseBook);
  private readonly statusBar = inject(StatusBar);
  private readonly writing = inject(WritingWithin).writing;
  /** It wants room: one writes in it, or phrases are offered. */
  readonly isWriting = computed(() => this.writing() || this.query() !== null);
  protected readonly editor = viewChild(RichTextEditor);
  private readonly line = viewChild<ElementRef<HTMLInputElement>>('line');
  private readonly doc = new Y.Doc();
  protected readonly shared = new SharedText(this.doc.getXmlFragment('note'));
  protected readonly there = signal(false);
  protected readonly problem = signal('');
  protected readonly managing = signal(false);
  protected readonly refusal = computed(() => this.outbox.refusal(this.place()));
  protected readonly failing = computed(() => this.unkept() && this.outbox.failing());
  protected readonly unkept = computed(() => this.outbox.unkept().has(noteKey(this.place())));

  /** What is typed behind a slash, in the text or on the line; null: nothing is. */
  protected readonly query = signal<{ typed: string; on: 'text' | 'line' } | null>(null);
  protected readonly offered = computed(() => {
    const q = this.query();
    return q ? matching(this.phrases.all(), q.typed) : [];
  });
  protected readonly at = signal(0);
  /** Grows with every change of the text, where somebody looks at it. */
  private readonly changes = signal(0);
  /** Words of a phrase that stand in this note and are others now, where those are gone through. */
  protected readonly former = computed(() => {
    this.changes();
    const replace = this.people.walk()?.replace;
    if (!replace || !this.there() || !this.store.mayScore()) return null;
    const [was, becomes] = [replace.was, replace.becomes].map((w) => this.people.phrase(w, this.student()));
    return this.doc.getXmlFragment('note').toString().replace(/<[^>]*>/g, '').includes(was!) ? { was: was!, becomes: becomes! } : null; // prettier-ignore
  });
  /** The version of the note that all is here of. */
  private version = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    effect((onCleanup) => {
      const place = this.place();
      if (!place.book) return;
      const end = this.outbox.watch(place, () => {
        this.shared.flush();
        return Y.encodeStateVector(this.doc);
      });
      const timer = setTimeout(() => void this.load(true), FETCHED_AFTER);
      onCleanup(() => {
        clearTimeout(timer);
        end();
      });
    });
    this.doc.on('update', (update: Uint8Array, origin: unknown) => {
      if (this.people.walk()) this.changes.update((n) => n + 1);
      if (origin !== 'server') this.outbox.put(this.place(), update);
    });
    this.outbox.merged.pipe(takeUntilDestroyed()).subscribe(({ place, lacks, version }) => {
      if (noteKey(place) === noteKey(this.place())) this.take(lacks, version);
    });
    inject(LiveStream)
      .events.pipe(takeUntilDestroyed())
      .subscribe((e) => {
        // What others wrote while nothing was told is asked for.
        if (e.kind === 'hello' && e.book === this.store.id() && this.there()) void this.load(false);
        if (e.kind !== 'feedback') return;
        const { note, ...at } = e;
        if (note === null || noteKey(at) !== noteKey(this.place())) return;
        clearTimeout(this.timer);
        // What was written here has come back with its own answer by then.
        this.timer = setTimeout(() => note > this.version && void this.load(false), GATHERED);
      });
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.timer);
      this.shared.end();
      this.doc.destroy();
    });
  }

  private readonly place = computed((): NotePlace => {
    return { book: this.store.id(), assessment: this.assessment(), enrolment: this.student(), work: this.work() };
  });

  /** What the server has of it; at first also what was typed here and is not kept yet. */
  protected async load(first: boolean): Promise<void> {
    const place = this.place();
    try {
      const { state, version } = await this.api.get<EndNoteState>(notePath(place));
      if (noteKey(place) !== noteKey(this.place())) return;
      this.take(fromBase64(state), version);
      this.problem.set('');
    } catch (error) {
      this.problem.set(messageOf(error));
    }
    if (!first) return;
    this.shared.flush();
    for (const piece of this.outbox.unsent(place)) Y.applyUpdate(this.doc, piece, 'server');
    this.there.set(true);
  }

  private take(update: Uint8Array, version: number): void {
    this.shared.flush();
    Y.applyUpdate(this.doc, update, 'server');
    this.version = Math.max(this.version, version);
  }

  protected replaceFormer({ was, becomes }: { was: string; becomes: string }): void {
    if (!this.editor()?.replace(was, becomes))
      this.statusBar.announce('These words have formatting within them: change them by hand.');
  }

  /** The keys go to the line of phrases. */
  focusLine(): void {
    this.line()?.nativeElement.focus();
  }

  protected slashed(typed: string | null): void {
    this.query.set(typed === null ? null : { typed, on: 'text' });
    this.at.set(0);
  }

  /** A key within the text that is not the text's own. */
  protected pressed(key: string): void {
    if (key === 'Escape') return this.query() ? this.query.set(null) : this.leave();
    if (key === 'Alt+Enter') return void this.keepSentence();
    if (key === 'ArrowDown' || key === 'ArrowUp') return this.move(key === 'ArrowDown' ? 1 : -1);
    const phrase = this.offered()[this.at()];
    if (phrase) this.pick(phrase);
  }

  protected typedOnLine(event: Event): void {
    const { value } = event.target as HTMLInputElement;
    this.query.set(value.startsWith('/') ? { typed: value.slice(1), on: 'line' } : null);
    this.at.set(0);
  }

  /** On the line a slash looks for a phrase; any other letter begins to write. */
  protected pressedOnLine(event: KeyboardEvent): void {
    const box = event.target as HTMLInputElement;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === 'Escape') this.leaveLine(box);
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') this.move(event.key === 'ArrowDown' ? 1 : -1);
    else if (event.key === 'Enter') {
      const phrase = this.query() ? this.offered()[this.at()] : undefined;
      if (phrase) this.pick(phrase);
      else if (!box.value.startsWith('/')) this.takeLine(box);
    } else if (!this.beginsText(box, event.key)) return event.stopPropagation();
    event.preventDefault();
    event.stopPropagation();
  }

  /** Any other letter than the slash goes on with the text; before that is there, it waits on the line. */
  private beginsText(box: HTMLInputElement, key: string): boolean {
    return box.value === '' && key !== '/' && key.length === 1 && this.editor()?.writeOn(key) === true;
  }

  /** What was written on the line stands in the text. */
  private takeLine(box: HTMLInputElement): void {
    if (box.value.trim() !== '') this.editor()?.append(box.value.trim());
    this.leaveLine(box);
  }

  private move(by: 1 | -1): void {
    const n = this.offered().length;
    if (n > 0) this.at.update((at) => (at + by + n) % n);
  }

  protected pick(phrase: Phrase): void {
    const words = this.people.phrase(phrase.words, this.student());
    const on = this.query()?.on;
    if (on === 'text') this.editor()?.putPhrase(words);
    else this.editor()?.append(words);
    this.phrases.use(phrase);
    this.query.set(null);
    const box = this.line()?.nativeElement;
    if (on === 'line' && box) this.leaveLine(box);
  }

  private leaveLine(box: HTMLInputElement): void {
    box.value = '';
    this.query.set(null);
    this.leave();
  }

  private leave(): void {
    this.left.emit();
  }

  /** What is chosen, or the line that one writes in, is a phrase from now on. */
  protected async keepSentence(): Promise<void> {
    const words = this.editor()?.sentence() ?? '';
    if (words === '') return this.statusBar.announce('Put the cursor into the line that is to be a phrase.');
    try {
      await this.phrases.keep(words);
    } catch (error) {
      this.statusBar.announce(`It is no phrase yet: ${messageOf(error)}`, 'trouble');
    }
  }
}
