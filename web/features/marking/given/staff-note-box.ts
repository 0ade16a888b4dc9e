import { afterNextRender, ChangeDetectionStrategy, Component, computed, DestroyRef, effect, type ElementRef, inject, input, signal, untracked, viewChild } from '@angular/core'; // prettier-ignore
import { Textarea } from 'primeng/textarea';
import { NOTE_LENGTH } from '@contract/wire/constants';
import { ApiProblem, messageOf } from '../../../data/api';
import { BookAnnotations } from '../../../data/annotations';
import { BookStore } from '../../../data/book';
import { KeptDrafts } from '../../../data/kept-drafts';

/** Milliseconds without a key after which what was typed is kept by the server: each keeping is a line in the journal. */
const RESTS = 2_500;

/** What was typed and is not kept yet, with the id of the words that were seen; a flag beside them is no other words. */
interface Draft {
  text: string;
  seen: string;
}

/** The words of a staff note, kept as they are typed; never over what somebody else wrote. For one student and assessment. */
@Component({
  selector: 'lt-staff-note-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Textarea],
  template: `
    <textarea
      pTextarea
      #box
      rows="2"
      aria-label="Staff note"
      [attr.maxlength]="NOTE_LENGTH"
      [disabled]="!store.mayScore()"
      (input)="typed()"
      (blur)="keep()"
      (keydown.escape)="box.blur()"
    ></textarea>
    @if (theirs(); as t) {
      <p class="problem" role="alert">
        {{ t.by }} wrote meanwhile: “{{ t.text }}”. Yours is not kept yet.
        <button type="button" class="word" (click)="putBoth()">put both</button>
        <button type="button" class="word" (click)="takeTheirs()">take theirs</button>
      </p>
    } @else if (problem()) {
      <p class="problem" role="alert">
        {{ problem() }} <button type="button" class="word" (click)="keep()">Try again</button>
      </p>
    } @else if (draft()) {
      <p class="quiet" role="status">not kept yet</p>
    } @else if (note(); as n) {
      <p class="quiet">{{ n.by }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 3px;
    }
    textarea {
      width: 100%;
      field-sizing: content;
      max-height: 140px;
    }
    p {
      margin: 0;
    }
  `,
})
export class StaffNoteBox {
  readonly student = input.required<string>();
  readonly assessment = input.required<string>();
  protected readonly NOTE_LENGTH = NOTE_LENGTH;
  protected readonly store = inject(BookStore);
  private readonly annotations = inject(BookAnnotations);
  private readonly drafts = inject(KeptDrafts);
  private readonly box = viewChild.required<ElementRef<HTMLTextAreaElement>>('box');
  protected readonly note = computed(() => this.annotations.noteAt(this.student(), this.assessment()).note);
  private readonly seen = computed(() => this.note()?.id ?? '');
  protected readonly draft = signal<Draft | null>(null);
  protected readonly theirs = signal<{ text: string; by: string } | null>(null);
  protected readonly problem = signal('');
  private readonly place = computed(() => `staff-note ${this.store.id()} ${this.student()} ${this.assessment()}`);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private sending = false;

  constructor() {
    effect(() => {
      const kept = this.drafts.read<Draft>(this.place());
      untracked(() => this.draft.set(kept));
    });
    // What is kept stands in the box, unless something else is typed there.
    effect(() => {
      const [text, draft] = [this.note()?.text ?? '', this.draft()];
      const box = this.box().nativeElement;
      const shown = draft?.text ?? text;
      if (box.value !== shown) box.value = shown;
    });
    afterNextRender(() => {
      if (this.draft()) void this.keep();
    });
    inject(DestroyRef).onDestroy(() => void this.keep());
  }

  protected typed(): void {
    const text = this.box().nativeElement.value;
    const draft = { text, seen: this.draft()?.seen ?? this.seen() };
    this.draft.set(draft);
    this.drafts.keep(this.place(), draft);
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.keep(), RESTS);
  }

  /** Sends what was typed; what is typed meanwhile follows. */
  protected async keep(): Promise<void> {
    clearTimeout(this.timer);
    const draft = this.draft();
    if (!draft || this.sending || this.theirs()) return;
    const place = this.place();
    this.sending = true;
    try {
      const same = (this.note()?.text ?? '') === draft.text.trim();
      if (!same && this.seen() !== draft.seen) return this.conflict();
      if (!same) await this.annotations.write(this.student(), this.assessment(), { note: draft.text });
      this.problem.set('');
      const after = this.draft();
      if (after && after.text !== draft.text) {
        this.set(place, { text: after.text, seen: this.seen() });
        this.timer = setTimeout(() => void this.keep(), RESTS);
      } else this.set(place, null);
    } catch (error) {
      // Told what stands there now: other words are asked about, a flag alone is written beside.
      if (error instanceof ApiProblem && error.code === 'stale') this.timer = setTimeout(() => void this.keep());
      else this.problem.set(`This note is not kept yet: ${messageOf(error)}`);
    } finally {
      this.sending = false;
    }
  }

  private conflict(): void {
    const n = this.note();
    this.theirs.set({ text: n?.text ?? '', by: n?.by ?? 'Somebody' });
  }

  private set(place: string, draft: Draft | null): void {
    this.draft.set(draft);
    this.drafts.keep(place, draft);
  }

  protected putBoth(): void {
    const text = `${this.theirs()!.text}\n${this.draft()?.text ?? ''}`.trim();
    this.theirs.set(null);
    this.set(this.place(), { text, seen: this.seen() });
    void this.keep();
  }

  protected takeTheirs(): void {
    this.theirs.set(null);
    this.set(this.place(), null);
  }
}
