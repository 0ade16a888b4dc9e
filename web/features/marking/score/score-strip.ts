import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  output,
  resource,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { InputText } from 'primeng/inputtext';
import { cellKey } from '@contract/wire/cell-key';
import { BookStore } from '../../../data/book';
import { UnreadableEntries } from '../../../data/outbox/unreadable-entries';
import { completeTyped } from '../../../ui/form/complete-typed';
import { points } from '../../../ui/text/cell-view';
import { shortContent } from '../../../ui/text/short-content';
import { FLAG, STATES, type Working } from '../../../worker/protocol';
import { ScoreEntry, typedScore, type ScorePlace } from './score-entry';

/** Where one goes after a score. */
export type After = 'stay' | 'next' | 'previous';

/** The score of one student's work, typed as in the ledger, and what the rules make of it. For one student. */
@Component({
  selector: 'lt-score-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [InputText, RouterLink],
  templateUrl: './score-strip.html',
  styleUrl: './score-strip.css',
})
export class ScoreStrip {
  readonly student = input.required<string>();
  readonly assessment = input.required<string>();
  /** Something was handed in, so that a score has something to stand on. */
  readonly handedIn = input.required<boolean>();
  /** What the levels of a rubric make; null: there is none, or nothing is given. */
  readonly levelSum = input<number | null>(null);
  readonly done = output<After>();
  protected readonly store = inject(BookStore);
  private readonly entry = inject(ScoreEntry);
  private readonly unreadable = inject(UnreadableEntries);
  private readonly line = viewChild<ElementRef<HTMLInputElement>>('line');
  protected readonly message = signal('');
  /** What is asked once and was said yes to by Enter. */
  private accepted = '';
  /** The version that stood here when one began to type. */
  private seen: number | null = null;

  private readonly key = computed(() => cellKey(this.student(), this.assessment()));
  private readonly item = computed(() => this.store.assessments().get(this.assessment()));
  private readonly at = computed(() => this.store.atCell(this.student(), this.assessment()));
  protected readonly outOf = computed(() => this.item()?.points ?? 0);
  /** What clashed of levels the ruler says. */
  protected readonly trouble = computed(() => {
    const t = this.store.outbox.troubles().get(this.key());
    return t === undefined || (t.kind === 'clash' && t.draft !== undefined) ? null : t;
  });
  protected readonly theirs = computed(() => {
    const t = this.trouble();
    return t?.kind === 'clash' ? shortContent(t.theirs.entry) : '';
  });

  /** Marked, what was taken, and what counts, as the ledger has them; null: no score stands. */
  protected readonly sum = computed(() => {
    this.store.revision();
    const [cells, at] = [this.store.cells(), this.at()];
    if (!cells || Number.isNaN(at)) return null;
    const state = STATES[cells.state[at]!]!;
    if (state !== 'scored' && state !== 'set') return null;
    const [marked, taken, counts] = [cells.marked[at]!, cells.taken[at]!, cells.counts[at]!];
    return {
      marked: Number.isNaN(marked) ? null : points(Math.round(marked / 100)),
      taken: taken > 0 ? points(taken) : null,
      counts: Number.isNaN(counts) ? null : points(counts),
      set: state === 'set',
      released: (cells.flags[at]! & FLAG.released) !== 0,
    };
  });

  /** Its working with what the cell holds; asked for anew with each change. */
  private readonly working = resource({
    params: () => ({ student: this.student(), item: this.assessment(), at: this.store.revision() }),
    loader: ({ params }) => this.store.worker().explainItem(params.student, params.item, this.store.titles()),
  });
  /** While it is asked for anew what was there stays: nothing flickers under the keys. */
  private readonly known = linkedSignal<Working | undefined, Working | undefined>({
    source: () => (this.working.hasValue() ? this.working.value() : undefined),
    computation: (now, before) => now ?? before?.value,
  });
  private readonly content = computed(() => this.known()?.content ?? null);
  /** How late, in the words of the working. */
  protected readonly lateWords = computed(() => {
    return this.known()?.lines.find((l) => l.tone === 'cost')?.detail ?? '';
  });
  protected readonly waived = computed(() => this.content()?.attempts?.at(-1)?.onTime === true);

  private readonly shown = computed(() => typedScore(this.content()));
  /** What is being typed; null: nothing. */
  private readonly typing = signal<string | null>(null);
  /** What stands in the box but for what is being typed: what could not be read, else the last attempt's score. */
  private readonly held = computed(() => ({
    isTyped: this.typing() !== null,
    text: this.unreadable.all().get(this.key())?.text ?? this.shown(),
  }));
  /** While one types, what others keep does not take it away. */
  protected readonly stands = linkedSignal<{ isTyped: boolean; text: string }, string>({
    source: this.held,
    computation: ({ isTyped, text }, before) => (isTyped && before ? before.value : text),
  });

  constructor() {
    // What is chosen to be typed over stays so when a score comes in under it.
    afterRenderEffect(() => {
      this.stands();
      const box = this.line()?.nativeElement;
      if (box && box === document.activeElement && untracked(this.typing) === null) box.select();
    });
    // Whoever is gone on from keeps what was typed.
    inject(DestroyRef).onDestroy(() => this.leave());
  }

  focus(): void {
    this.line()?.nativeElement.focus();
    this.line()?.nativeElement.select();
  }

  /** Begins with a digit that was pressed elsewhere in the room. */
  begin(digit: string): void {
    const box = this.line()?.nativeElement;
    if (!box) return;
    box.focus();
    box.value = digit;
    this.typed(digit);
  }

  protected typed(text: string): void {
    this.seen ??= this.store.versionAt(this.student(), this.assessment());
    this.message.set('');
    this.typing.set(text);
  }

  protected input(event: Event): void {
    this.typed((event.target as HTMLInputElement).value);
    completeTyped(event, this.item()?.marks ?? []);
  }

  protected press(event: KeyboardEvent): void {
    const after: After | null =
      event.key === 'Enter' ? 'stay' : event.key === 'ArrowDown' ? 'next' : event.key === 'ArrowUp' ? 'previous' : null;
    if (event.key === 'Escape') {
      this.end();
      this.line()!.nativeElement.value = this.stands();
      this.message.set('');
      this.done.emit('stay');
    } else if (after) {
      if (this.enter(this.line()!.nativeElement.value)) this.done.emit(after);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** Left by other ways than Enter: what can be read is kept, what cannot stays as it was typed. */
  protected leave(): void {
    if (this.seen === null) return;
    const text = this.line()?.nativeElement.value ?? this.typing() ?? '';
    if (this.enter(text)) return;
    this.entry.setAside(this.place(), text, this.message());
    this.end();
  }

  /** Keeps what was typed; false where it cannot be read, or is asked once more about. */
  private enter(text: string): boolean {
    if (this.seen === null || text.trim() === this.shown()) {
      this.end();
      return true;
    }
    const message = this.entry.enter(this.place(), text, this.seen, this.accepted, this.content() ?? {});
    this.message.set(message);
    if (message === '') this.end();
    else this.accepted = text;
    return message === '';
  }

  private end(): void {
    this.seen = null;
    this.accepted = '';
    this.typing.set(null);
  }

  private place(): ScorePlace {
    return { student: this.student(), item: this.assessment(), handedIn: this.handedIn(), sum: this.levelSum() };
  }

  protected waive(): void {
    const seen = this.store.versionAt(this.student(), this.assessment());
    const change = { kind: 'on-time', waived: !this.waived() } as const;
    this.entry.keep(this.place(), change, this.waived() ? '/late' : '/ontime', seen);
  }

  protected takeTheirs(): void {
    void this.store.takeTheirs(this.student(), this.assessment());
  }
}
