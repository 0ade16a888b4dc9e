import {
  afterNextRender,
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { Textarea } from 'primeng/textarea';
import { linePath, strokeLines } from '@core/marks/stroke';
import { findQuote, movedMark, type Box, type Point, type Surface, type WorkMark } from '@core/marks/work-mark';
import type { TextSurface } from './chosen-words';
import type { BoardMark } from './board-mark';
import { MarkBoard } from './mark-board';
import { markLabel } from './mark-label';
import { boxToSurface, type Plane } from './plane';
import { SurfacePointer } from './surface-pointer';
import { lineBoxes, rangeOf, textMap } from './text-map';

/** Parts of a width that the drawing counts in. */
const UNIT = 1000;
/** Widths that a key moves a mark by. */
const KEY_STEP = 0.005;

/** A mark with where it lies on this surface, in parts of its width. */
interface PlacedMark extends BoardMark {
  label: string;
  boxes: Box[];
  lines: { width: number; path: string }[];
  at: [number, number] | null;
  /** How far its block lies below the top. */
  top: number;
  /** What lies round all of it, to be taken hold of. */
  hold: Box;
}

/** The marks on one page, sheet or leaf, over what it shows; and what a pointer makes there. */
@Component({
  selector: 'lt-surface-marks',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Textarea],
  templateUrl: './surface-marks.html',
  styleUrl: './surface-marks.css',
  host: {
    'data-not-text': '',
    '[class.flow]': 'flow() !== null',
    '[style.width.px]': 'width()',
    '[style.height.px]': 'height()',
    '[style.--turn]': "turn() + 'deg'",
  },
})
export class SurfaceMarks implements TextSurface {
  readonly on = input.required<Surface['on']>();
  readonly index = input(0);
  /** Of the surface unturned, in CSS pixels. */
  readonly width = input.required<number>();
  readonly height = input.required<number>();
  readonly turn = input(0);
  /** Its text flows here: quotes are looked for in it, and what else is marked hangs on its blocks. */
  readonly flow = input<HTMLElement | null>(null);
  /** Grows when what flows was laid out anew. */
  readonly laidOut = input(0);
  protected readonly board = inject(MarkBoard);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  protected readonly viewBox = computed(() => `0 0 ${UNIT} ${(UNIT * this.height()) / this.width()}`);
  /** An area that is drawn, in widths. */
  protected readonly drawing = signal<Box | null>(null);
  private readonly moved = signal<{ id: string; x: number; y: number } | null>(null);
  private readonly written = viewChild<ElementRef<HTMLTextAreaElement>>('written');

  private readonly here = computed(() =>
    this.board.marks().filter(({ mark: { surface: s } }) => {
      if (this.on() === 'whole') return s.on === 'whole' || s.on === 'block';
      return s.on === this.on() && s.index === this.index();
    }),
  );
  /** Read off the page after it was laid out: where quotes and blocks lie now. */
  private readonly flowed = signal<ReadonlyMap<string, { boxes: Box[]; top: number }>>(new Map());
  private readonly placed = computed(() => this.here().map((m) => this.place(m)));
  protected readonly drawn = computed(() => this.placed().filter((m) => m.mark.kind !== 'text'));
  protected readonly texts = computed(() => this.placed().filter((m) => m.mark.kind === 'text'));

  constructor() {
    let pointer: SurfacePointer | undefined;
    // Once it is on its page.
    afterNextRender(() => {
      this.board.surfaces.add(this);
      pointer = new SurfacePointer(this.board, this, this.host);
    });
    inject(DestroyRef).onDestroy(() => {
      this.board.surfaces.delete(this);
      pointer?.end();
    });
    afterRenderEffect({
      earlyRead: () => {
        const flow = this.flow();
        this.laidOut();
        this.width();
        this.height();
        return flow ? this.readFlow(flow, this.here()) : new Map<string, { boxes: Box[]; top: number }>();
      },
      write: (read) => {
        const now = read();
        if (JSON.stringify([...now]) !== JSON.stringify([...this.flowed()])) this.flowed.set(now);
      },
    });
    afterRenderEffect(() => this.written()?.nativeElement.focus());
    afterRenderEffect(() => {
      this.placed();
      this.turn();
      this.board.laidOut.update((n) => n + 1);
    });
  }

  /** The element that its text stands in. */
  get text(): HTMLElement {
    return this.flow() ?? this.host.parentElement!.querySelector<HTMLElement>('[data-text]') ?? this.host;
  }

  get flows(): boolean {
    return this.flow() !== null;
  }

  get plane(): Plane {
    return { element: this.host, width: this.width(), height: this.height(), turn: this.turn() };
  }

  get surface(): Surface {
    return { on: this.on(), index: this.index() };
  }

  /** What is drawn on while the pen is down; as large as the page, it is there only then. */
  makeCanvas(): HTMLCanvasElement {
    return this.host.insertBefore(document.createElement('canvas'), this.host.firstChild);
  }

  /** The mark over words that lies at a place of the surface; of several the smallest. */
  wordsAt([x, y]: Point): string | null {
    const [px, py] = [x * UNIT, y * UNIT];
    const hit = this.placed().filter((m) => m.mark.quote && m.boxes.some(([l, t, w, h]) => px >= l && px <= l + w && py >= t && py <= t + h)); // prettier-ignore
    hit.sort((a, b) => a.mark.quote!.exact.length - b.mark.quote!.exact.length);
    return hit[0]?.id ?? null;
  }

  showArea(box: Box | null): void {
    this.drawing.set(box);
  }

  showMoved(moved: { id: string; x: number; y: number } | null): void {
    this.moved.set(moved);
  }

  /** How far a mark is drawn from its place while it is moved, in parts of the width. */
  protected shiftOf(m: PlacedMark): [number, number] {
    const moved = this.moved();
    return moved?.id === m.id ? [moved.x * UNIT, moved.y * UNIT] : [0, 0];
  }

  protected shift(m: PlacedMark): string | null {
    const [x, y] = this.shiftOf(m);
    return x === 0 && y === 0 && m.top === 0 ? null : `translate(${x} ${y + m.top})`;
  }

  /** The block of what flows that a place lies in, and its top in widths. */
  blockAt(y: number): { surface: Surface; top: number } {
    const blocks = this.flow() ? blocksOf(this.flow()!) : [];
    if (blocks.length === 0) return { surface: this.surface, top: 0 };
    const tops = blocks.map((b) => this.topOf(b));
    const index = Math.max(0, tops.findLastIndex((top) => top <= y)); // prettier-ignore
    return { surface: { on: 'block', index }, top: tops[index]! };
  }

  private topOf(block: Element): number {
    return (block.getBoundingClientRect().top - this.host.getBoundingClientRect().top) / this.width();
  }

  private readFlow(flow: HTMLElement, marks: readonly BoardMark[]): Map<string, { boxes: Box[]; top: number }> {
    const read = new Map<string, { boxes: Box[]; top: number }>();
    if (marks.length === 0) return read;
    const map = textMap(flow);
    const blocks = blocksOf(flow);
    for (const { id, mark } of marks) {
      const block = mark.surface.on === 'block' ? blocks[Math.min(mark.surface.index, blocks.length - 1)] : undefined;
      const found = mark.quote && findQuote(map.text, mark.quote);
      const range = found && rangeOf(map, found.start, found.end);
      const boxes = range ? lineBoxes(range).map((r) => boxToSurface(this.plane, r)) : [];
      read.set(id, { boxes, top: block ? this.topOf(block) : 0 });
    }
    return read;
  }

  private place(m: BoardMark): PlacedMark {
    const { mark } = m;
    const flowed = this.flowed().get(m.id);
    const top = mark.surface.on === 'block' ? (flowed?.top ?? 0) * UNIT : 0;
    const boxes = (mark.quote && this.flow() ? (flowed?.boxes ?? []) : (mark.boxes ?? [])).map(scaled);
    const lines = (mark.strokes ?? []).flatMap((s) =>
      strokeLines(s).map((l) => ({ width: l.width * UNIT, path: linePath(l, UNIT) })),
    );
    const at: [number, number] | null = mark.at ? [mark.at[0] * UNIT, mark.at[1] * UNIT] : null;
    return { ...m, label: markLabel(m), boxes, lines, at, top, hold: holdOf(mark, boxes) };
  }

  protected focus(id: string): void {
    if (this.board.chosen() !== id) this.board.choose(id);
  }

  /** Keys of a mark that has the focus. */
  protected press(event: KeyboardEvent, m: BoardMark): void {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (by && this.board.mayMark() && !m.mark.quote) {
      const far = event.shiftKey ? 5 * KEY_STEP : KEY_STEP;
      this.board.change(m.id, movedMark(m.mark, by[0]! * far, by[1]! * far), true);
    } else if (event.key === 'Delete' || event.key === 'Backspace') this.board.acts.next({ act: 'take-off', id: m.id });
    else if (event.key === 'Enter') this.board.choose(m.id, true);
    else if (event.key === 'Escape') this.board.choose('');
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  protected write(event: Event, m: BoardMark): void {
    this.board.change(m.id, { ...m.mark, comment: (event.target as HTMLTextAreaElement).value }, true);
  }

  protected pressText(event: KeyboardEvent, m: BoardMark): void {
    event.stopPropagation();
    if (event.key !== 'Escape') return;
    this.leaveText(m);
    // The next key is the room's, however soon it comes.
    (event.target as HTMLElement).blur();
  }

  protected leaveText(m: BoardMark): void {
    if (this.board.chosen() === m.id && this.board.writing()) this.board.choose('');
  }
}

export const blocksOf = (flow: HTMLElement): Element[] => [...flow.querySelectorAll(':scope > lt-blocks > *')];
const scaled = (b: Box): Box => b.map((n) => n * UNIT) as Box;

function holdOf(mark: WorkMark, boxes: Box[]): Box {
  const all = mark.strokes ? mark.strokes.flat().map(([x, y]): Box => scaled([x, y, 0, 0])) : boxes;
  if (all.length === 0) return [0, 0, 0, 0];
  const [left, top] = [Math.min(...all.map((b) => b[0])), Math.min(...all.map((b) => b[1]))];
  const [right, bottom] = [Math.max(...all.map((b) => b[0] + b[2])), Math.max(...all.map((b) => b[1] + b[3]))];
  return [left, top, right - left, bottom - top];
}
