import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { InputText } from 'primeng/inputtext';
import { Textarea } from 'primeng/textarea';
import type { WorkMark } from '@core/marks/work-mark';
import type { Phrase } from '@contract/work/feedback';
import { matching, PhraseBook } from '../../../data/work/phrases';
import type { BoardMark } from '../../../viewer/marks/board-mark';
import { markLabel } from '../../../viewer/marks/mark-label';
import { MarkingList } from '../list/marking-list';

/** A slash and letters before the cursor: a phrase is looked for. */
const LOOKS_FOR = /(?:^|\s)\/([^\s/]*)$/;

/** What one mark says, in the margin; chosen, it is written. */
@Component({
  selector: 'lt-margin-note',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [InputText, Textarea],
  templateUrl: './margin-note.html',
  styleUrl: './margin-note.css',
})
export class MarginNote {
  readonly mark = input.required<BoardMark>();
  readonly student = input.required<string>();
  readonly kept = input(true);
  readonly chosen = input(false);
  readonly writing = input(false);
  readonly mayMark = input(false);
  readonly choose = output<boolean>();
  readonly say = output<Partial<WorkMark>>();
  readonly done = output();
  readonly off = output();
  private readonly people = inject(MarkingList);
  private readonly phrases = inject(PhraseBook);
  private readonly box = viewChild<ElementRef<HTMLTextAreaElement>>('box');
  private readonly better = viewChild<ElementRef<HTMLInputElement>>('better');
  /** What is typed behind a slash; null: nothing is. */
  protected readonly query = signal<string | null>(null);
  protected readonly offered = computed(() => {
    const typed = this.query();
    return typed === null ? [] : matching(this.phrases.all(), typed);
  });
  protected readonly at = signal(0);
  protected readonly quoted = computed(() => this.mark().mark.quote?.exact.replace(/\s+/g, ' ') ?? '');
  protected readonly label = computed(() => markLabel(this.mark()));

  constructor() {
    afterRenderEffect(() => {
      if (this.writing()) (this.better() ?? this.box())?.nativeElement.focus();
    });
  }

  protected typed(event: Event): void {
    const box = event.target as HTMLTextAreaElement;
    this.query.set(LOOKS_FOR.exec(box.value.slice(0, box.selectionStart))?.[1] ?? null);
    this.at.set(0);
    this.say.emit({ comment: box.value });
  }

  protected pressed(event: KeyboardEvent): void {
    event.stopPropagation();
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const offered = this.offered();
    if (event.key === 'Escape') {
      if (this.query() !== null) this.query.set(null);
      else this.done.emit();
    } else if (offered.length > 0 && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
      const by = event.key === 'ArrowDown' ? 1 : -1;
      this.at.update((at) => (at + by + offered.length) % offered.length);
    } else if (event.key === 'Enter' && !event.shiftKey) {
      const phrase = offered[this.at()];
      if (phrase) this.pick(phrase);
      else this.done.emit();
    } else return;
    event.preventDefault();
  }

  /** The phrase stands where it was looked for. */
  protected pick(phrase: Phrase): void {
    const box = this.box()!.nativeElement;
    const before = box.value.slice(0, box.selectionStart);
    const start = before.length - (this.query()?.length ?? 0) - 1;
    box.setRangeText(this.people.phrase(phrase.words, this.student()), start, before.length, 'end');
    this.phrases.use(phrase);
    this.query.set(null);
    this.say.emit({ comment: box.value });
    box.focus();
  }

  protected pressedBetter(event: KeyboardEvent): void {
    event.stopPropagation();
    if (event.key === 'Enter' || event.key === 'Escape') this.done.emit();
    else return;
    event.preventDefault();
  }

  protected sayBetter(event: Event): void {
    this.say.emit({ wording: (event.target as HTMLInputElement).value });
  }
}
