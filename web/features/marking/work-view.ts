import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { Submission } from '@contract/work/submissions';
import { CopiesMenu } from './marks/copies-menu';
import { MarkCopies } from './marks/mark-copies';
import type { ShownMark } from '../../data/work/work-marks';
import { FileView } from '../../viewer/file-view';
import { FindBar } from '../../viewer/find/find-bar';
import { FindBoard } from '../../viewer/find/find-board';
import { chosenWords } from '../../viewer/marks/chosen-words';
import { MarkBoard, type MarkAct } from '../../viewer/marks/mark-board';
import { toSurface } from '../../viewer/marks/plane';
import { WordsBar } from '../../viewer/marks/words-bar';
import { TextPage } from '../../viewer/text-page';
import { Turns } from '../../viewer/turns';
import { onDocument } from '../../ui/layout/document-events';
import { shownAs, workFile, type WorkFile } from '../../viewer/work-file';

/** One leaf of what was handed in: a file, what was typed, or a link. */
type Leaf =
  | { key: string; label: string; kind: 'file'; file: WorkFile; odd: string | null }
  | { key: string; label: string; kind: 'text'; text: string }
  | { key: string; label: string; kind: 'link'; address: string };

const LEAST_ZOOM = 0.25;
const MOST_ZOOM = 5;
const STEP = 1.2;
/** Pixels between the work and the edge of its place. */
const EDGE = 32;
/** Milliseconds between two looks whether the end of the leaf is in sight, and pixels of it that need not be. */
const LOOKS = 700;
const END = 60;

/** The leaves of a submission, as its student handed them in; files that are not all here are none. */
export function leavesOf(book: string, s: Submission): Leaf[] {
  return [
    ...s.files.flatMap((f): Leaf[] =>
      f.sha256 === null
        ? []
        : [
            {
              ...{ key: `${s.id}/${f.id}`, label: f.name, kind: 'file', odd: f.odd },
              file: workFile(book, s.id, f),
            },
          ],
    ),
    ...(s.typed.trim() === '' ? [] : [{ key: `${s.id} text`, label: 'typed', kind: 'text' as const, text: s.typed }]),
    ...(s.link.trim() === '' ? [] : [{ key: `${s.id} link`, label: 'link', kind: 'link' as const, address: s.link }]),
  ];
}

/** What one student handed in, leaf by leaf: shown, turned, larger and smaller. For one submission. */
@Component({
  selector: 'lt-work-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FileView, FindBar, CopiesMenu, TextPage, WordsBar],
  providers: [FindBoard, MarkBoard],
  host: {
    '[class.tool]': 'board.tool() !== null',
  },
  templateUrl: './work-view.html',
  styleUrl: './work-view.css',
})
export class WorkView {
  readonly book = input.required<string>();
  readonly submission = input.required<Submission>();
  /** Marks on all leaves of it. */
  readonly marks = input<readonly ShownMark[]>([]);
  readonly mayMark = input(false);
  /** A mark was made, changed or taken off on a leaf. */
  readonly marked = output<{ leaf: string; act: MarkAct }>();
  /** Every leaf was seen to its end. */
  readonly lookedThrough = output();
  readonly board = inject(MarkBoard);
  private readonly find = inject(FindBoard);
  private readonly finder = viewChild(FindBar);
  private readonly copies = inject(MarkCopies);
  private readonly turns = inject(Turns);
  private readonly place = viewChild.required<ElementRef<HTMLElement>>('place');
  /** How far the work was scrolled, and where each mark begins in what scrolls, in CSS pixels. */
  readonly scrollTop = signal(0);
  readonly seenHeight = signal(0);
  readonly tops = signal<ReadonlyMap<string, number>>(new Map());
  /** The leaf that is shown, as its marks name it; '' where none can be marked on. */
  readonly leafId = computed(() => {
    const leaf = this.leaf();
    return leaf?.kind === 'file' ? leaf.file.id : leaf?.kind === 'text' ? 'typed' : '';
  });
  protected readonly leaves = computed(() => leavesOf(this.book(), this.submission()));
  protected readonly chosen = linkedSignal(() => this.leaves()[0]?.key ?? '');
  protected readonly leaf = computed(() => this.leaves().find((l) => l.key === this.chosen()) ?? null);
  protected readonly zoom = signal(1);
  private readonly room = signal(720);
  protected readonly width = computed(() => Math.max(240, this.room() - (this.room() < 500 ? 0 : 2 * EDGE)));
  protected readonly pages = linkedSignal({ source: this.chosen, computation: () => 0 });
  protected readonly page = linkedSignal({ source: this.chosen, computation: () => 1 });
  protected readonly turn = computed(() => this.turns.of(this.chosen()));
  /** Can be shown larger and turned: pages and pictures, a text larger alone. */
  protected readonly looks = computed(() => {
    const leaf = this.leaf();
    if (leaf?.kind === 'text') return { sized: true, turned: false };
    const kind = leaf?.kind === 'file' ? shownAs(leaf.file) : null;
    const paged = kind === 'pdf' || kind === 'picture' || kind === 'heic';
    return { sized: paged || (typeof kind === 'string' && kind !== 'sound' && kind !== 'film'), turned: paged };
  });
  /** Has words that can be found. */
  protected readonly canFind = computed(() => {
    const leaf = this.leaf();
    const kind = leaf?.kind === 'file' ? shownAs(leaf.file) : leaf?.kind;
    return typeof kind === 'string' && !['picture', 'heic', 'sound', 'film', 'link'].includes(kind);
  });
  protected readonly percent = computed(() => `${Math.round(this.zoom() * 100)} %`);
  /** Only addresses of the web are opened, each in a window that knows nothing of this one. */
  protected readonly opens = computed(() => {
    const leaf = this.leaf();
    return leaf?.kind === 'link' && /^https?:\/\//i.test(leaf.address.trim()) ? leaf.address.trim() : null;
  });

  constructor() {
    onDocument('selectionchange', () => this.choose());
    onDocument('pointerdown', () => (this.pressed = true));
    onDocument(['pointerup', 'pointercancel'], () => this.release());
    const seen = new Set<string>();
    const looking = setInterval(() => {
      if (!this.isAtEnd()) return;
      seen.add(this.chosen());
      if (!this.leaves().every((l) => seen.has(l.key))) return;
      clearInterval(looking);
      this.lookedThrough.emit();
    }, LOOKS);
    inject(DestroyRef).onDestroy(() => clearInterval(looking));
    const watcher = new ResizeObserver(([entry]) => {
      this.room.set(Math.floor(entry!.contentRect.width));
      this.seenHeight.set(this.place().nativeElement.clientHeight);
    });
    queueMicrotask(() => {
      watcher.observe(this.place().nativeElement);
      this.find.root.set(this.place().nativeElement);
    });
    inject(DestroyRef).onDestroy(() => watcher.disconnect());
    // Synchronous with what is shown: a mark never lies on another leaf.
    effect(() => {
      const [all, leaf] = [this.marks(), this.leafId()];
      this.board.marks.set(all.filter((m) => m.leaf === leaf));
      this.board.mayMark.set(this.mayMark() && leaf !== '');
    });
    effect(() => {
      this.chosen();
      untracked(() => this.board.leave());
      // Other words are found in another leaf.
      untracked(() => this.finder()?.end());
    });
    this.board.acts.pipe(takeUntilDestroyed()).subscribe((act) => this.marked.emit({ leaf: this.leafId(), act }));
    let frame = 0;
    effect((onCleanup) => {
      this.board.laidOut();
      this.board.marks();
      this.zoom();
      this.width();
      frame = requestAnimationFrame(() => this.measure());
      onCleanup(() => cancelAnimationFrame(frame));
    });
  }

  /** The end of the leaf is in sight. */
  private isAtEnd(): boolean {
    const place = this.place().nativeElement;
    const drawn = this.leaf()?.kind !== 'file' || place.querySelector('[data-drawn]') !== null;
    return this.leaf() !== null && drawn && place.scrollTop + place.clientHeight > place.scrollHeight - END;
  }

  /** Makes the marked copy of the leaf that is shown; null: there are no marks on it. */
  readonly markedCopy = computed(() => {
    const leaf = this.leaf();
    const shown = this.marks().filter((m) => m.leaf === this.leafId());
    if (!leaf || shown.length === 0) return null;
    return () => this.copies.makeMarked(leaf.kind === 'file' ? leaf.file : null, leaf.label, shown);
  });

  /** Where each mark lies in what scrolls. */
  private measure(): void {
    const place = this.place().nativeElement;
    const top = place.getBoundingClientRect().top - place.scrollTop;
    const tops = new Map<string, number>();
    for (const m of place.querySelectorAll<HTMLElement>('[data-mark]')) {
      const r = m.getBoundingClientRect();
      // Of what is over several lines the first.
      if (r.height > 0 || r.width > 0) tops.set(m.dataset['mark']!, r.top - top);
    }
    const was = this.tops();
    const same = was.size === tops.size && [...tops].every(([id, y]) => Math.abs((was.get(id) ?? -1e9) - y) < 0.5);
    if (!same) this.tops.set(tops);
  }

  private pressed = false;

  private release(): void {
    this.pressed = false;
    // What a click lets go of is let go of after it.
    setTimeout(() => this.choose());
  }

  /** Words were chosen with the pointer or the keys. */
  private choose(): void {
    // While a pointer chooses on, nothing comes in its way.
    if (this.pressed) return;
    const writes = document.activeElement?.matches('input, textarea, [contenteditable=true]');
    if (writes) return this.board.words.set(null);
    const selection = getSelection();
    const range = selection && selection.rangeCount > 0 && !selection.isCollapsed ? selection.getRangeAt(0) : null;
    const on = range && [...this.board.surfaces].find((s) => range.intersectsNode(s.text));
    this.board.words.set(on ? chosenWords(range, on) : null);
  }

  /** Brings a mark into sight. */
  show(id: string): void {
    const place = this.place().nativeElement;
    const top = this.tops().get(id);
    if (top === undefined) return;
    const [above, below] = [place.scrollTop, place.scrollTop + place.clientHeight];
    if (top < above + 20 || top > below - 60) place.scrollTo({ top: Math.max(0, top - place.clientHeight / 3) });
  }

  /** Where what scrolls begins in the window. */
  top(): number {
    return this.place().nativeElement.getBoundingClientRect().top;
  }

  /** Scrolls as far as a wheel beside the work says. */
  scrollBy(y: number): void {
    this.place().nativeElement.scrollTop += y;
  }

  /** A note or a text in the middle of what is seen, for whoever marks without a pointer. Gives whether there is a place. */
  putInMiddle(kind: 'note' | 'text'): boolean {
    const r = this.place().nativeElement.getBoundingClientRect();
    const y = r.top + r.height / 2;
    const on = [...this.board.surfaces].find((s) => {
      const b = s.plane.element.getBoundingClientRect();
      return b.top <= y && b.bottom >= y;
    });
    if (!on) return false;
    const [across, down] = toSurface(on.plane, r.left + r.width / 2, y);
    const { surface, top } = on.blockAt(down);
    this.board.make({ kind, surface, at: [across, down - top] }, true);
    return true;
  }

  protected scrolled(): void {
    this.scrollTop.set(this.place().nativeElement.scrollTop);
    this.board.words.set(null);
    const top = this.place().nativeElement.getBoundingClientRect().top + 160;
    const sheets = [...this.place().nativeElement.querySelectorAll('[data-page]')];
    if (sheets.length > 0)
      this.page.set(Math.max(1, sheets.filter((s) => s.getBoundingClientRect().top <= top).length));
  }

  findWords(): void {
    this.finder()?.enter();
  }

  larger(): void {
    this.zoom.update((z) => Math.min(MOST_ZOOM, z * STEP));
  }

  smaller(): void {
    this.zoom.update((z) => Math.max(LEAST_ZOOM, z / STEP));
  }

  fit(): void {
    this.zoom.set(1);
  }

  turnIt(): void {
    if (this.looks().turned) this.turns.turn(this.chosen());
  }

  /** Goes to the leaf after this one, from the first again at the end. */
  nextLeaf(): void {
    const leaves = this.leaves();
    const at = leaves.findIndex((l) => l.key === this.chosen());
    this.chosen.set(leaves[(at + 1) % Math.max(1, leaves.length)]?.key ?? '');
  }
}
