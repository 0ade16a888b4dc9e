import {
  MOST,
  movedMark,
  type Box,
  type Point,
  type StrokePoint,
  type Surface,
  type WorkMark,
} from '@core/marks/work-mark';
import type { MarkBoard } from './mark-board';
import { PenCanvas } from './pen-canvas';
import { strokePoint, toSurface, type Plane } from './plane';

/** What a pointer needs to know of the surface that it works on. */
interface PointedSurface {
  plane: Plane;
  surface: Surface;
  makeCanvas(): HTMLCanvasElement;
  wordsAt(place: Point): string | null;
  showArea(box: Box | null): void;
  blockAt(y: number): { surface: Surface; top: number };
  showMoved(moved: { id: string; x: number; y: number } | null): void;
}

/** Milliseconds after which the next line is a mark of its own. */
const TOGETHER = 900;
/** Lines that one mark has at most while one draws on. */
const MOST_TOGETHER = 60;
/** Widths that an area has at least, and that a mark is moved by at least. */
const LEAST = 0.006;

/** What a mouse, a finger or a pen does on one surface. */
export class SurfacePointer {
  private readonly page: HTMLElement;
  private pen: PenCanvas | null = null;
  private anchor: { surface: Surface; top: number } | null = null;
  private from: Point | null = null;
  private moving: { id: string; mark: WorkMark } | null = null;
  private stylus = false;
  private acted = false;
  private last: { id: string; at: number } | null = null;
  /** When the line that is being drawn was begun. */
  private begunAt = 0;
  private readonly listeners = new AbortController();

  constructor(
    private readonly board: MarkBoard,
    private readonly on: PointedSurface,
    private readonly host: HTMLElement,
  ) {
    // What flows lies beside its marks' own element.
    this.page = host.closest('lt-flow-surface')?.parentElement ?? host.parentElement!;
    const { signal } = this.listeners;
    this.page.addEventListener('pointerdown', (e) => this.down(e), { signal });
    this.page.addEventListener('pointermove', (e) => this.move(e), { signal });
    this.page.addEventListener('pointerup', (e) => this.up(e), { signal });
    this.page.addEventListener('pointercancel', () => this.drop(), { signal });
    this.page.addEventListener('click', (e) => this.click(e), { signal });
    // A pen draws where a finger scrolls.
    this.page.addEventListener('touchstart', (e) => this.stylus && e.preventDefault(), { signal, passive: false });
  }

  end(): void {
    this.listeners.abort();
    this.drop();
  }

  private down(e: PointerEvent): void {
    const isPen = e.pointerType === 'pen';
    this.stylus = isPen && this.board.mayMark();
    if (e.button !== 0 || !this.board.mayMark()) return;
    const tool = this.board.tool() ?? (isPen ? 'pen' : null);
    if (tool === null) return this.take(e);
    // Words that are written on the work are written on.
    if ((e.target as Element).closest('textarea')) return;
    e.preventDefault();
    this.page.setPointerCapture(e.pointerId);
    const [x, y] = toSurface(this.on.plane, e.clientX, e.clientY);
    this.from = [x, y];
    if (tool === 'pen') this.begin(e, y);
    else this.anchor = this.on.blockAt(y);
  }

  /** A click on words that are marked, where it chose none, is for their mark. */
  private click(e: MouseEvent): void {
    const { acted } = this;
    this.acted = false;
    if (acted || this.board.tool() !== null || (e.target as Element).closest('[data-mark], textarea, a')) return;
    if (getSelection()?.isCollapsed === false) return;
    const id = this.on.wordsAt(toSurface(this.on.plane, e.clientX, e.clientY));
    if (id !== null) this.board.choose(id);
    else if (this.board.chosen() !== '') this.board.choose('');
  }

  /** Takes hold of a mark that is there. */
  private take(e: PointerEvent): void {
    const id = (e.target as Element).closest<HTMLElement>('[data-mark]')?.dataset['mark'];
    const found = this.board.marks().find((m) => m.id === id);
    if (!found || (e.target as Element).closest('textarea')) return;
    this.board.choose(found.id);
    if (found.mark.quote) return;
    this.moving = found;
    this.from = toSurface(this.on.plane, e.clientX, e.clientY);
    this.page.setPointerCapture(e.pointerId);
    e.preventDefault();
  }

  private begin(e: PointerEvent, y: number): void {
    const { plane } = this.on;
    this.begunAt = e.timeStamp;
    this.anchor = this.on.blockAt(y);
    const colour = getComputedStyle(this.host).getPropertyValue(`--on-${this.board.ink()}`);
    this.pen = new PenCanvas(this.on.makeCanvas(), plane.width, plane.height, colour, this.anchor.top);
    this.pen.add([strokePoint(plane, e, this.anchor.top)]);
  }

  private move(e: PointerEvent): void {
    if (!this.from) return;
    if (this.pen) {
      const all = e.getCoalescedEvents?.() ?? [];
      const { plane } = this.on;
      return this.pen.add((all.length > 0 ? all : [e]).map((p) => strokePoint(plane, p, this.anchor!.top)));
    }
    const [x, y] = toSurface(this.on.plane, e.clientX, e.clientY);
    if (this.moving) this.on.showMoved({ id: this.moving.id, x: x - this.from[0], y: y - this.from[1] });
    else if (this.board.tool() === 'highlight') this.on.showArea(boxOf(this.from, [x, y]));
  }

  private up(e: PointerEvent): void {
    const { from, anchor, pen, moving } = this;
    const [x, y] = toSurface(this.on.plane, e.clientX, e.clientY);
    this.drop();
    // The click that follows belongs to what was done here.
    this.acted = from !== null;
    if (!from) return;
    if (moving) {
      const [dx, dy] = [x - from[0], y - from[1]];
      if (Math.hypot(dx, dy) >= LEAST) this.board.change(moving.id, movedMark(moving.mark, dx, dy));
      return;
    }
    if (pen) return this.keepStroke(pen, anchor!.surface, e.timeStamp);
    const tool = this.board.tool();
    if (tool === 'highlight') {
      const box = boxOf(from, [x, y]);
      if (box[2] < LEAST || box[3] < LEAST) return;
      this.board.make({ kind: 'highlight', surface: anchor!.surface, boxes: [[box[0], box[1] - anchor!.top, box[2], box[3]]] }, true); // prettier-ignore
    } else if (tool === 'note' || tool === 'text')
      this.board.make({ kind: tool, surface: anchor!.surface, at: [x, y - anchor!.top] }, true);
    // One note is made with one click; whoever wants more takes the tool again.
    this.board.tool.set(null);
  }

  /** Lines that follow each other soon are one mark, as the letters of a word are. */
  private keepStroke(pen: PenCanvas, surface: Surface, endedAt: number): void {
    // What is longer than a mark can be goes on in another.
    for (let at = 0; at === 0 || at < pen.stroke.length - 1; at += MOST.points - 1)
      this.keepPart(pen.stroke.slice(at, at + MOST.points), surface, endedAt);
  }

  private keepPart(stroke: StrokePoint[], surface: Surface, endedAt: number): void {
    const { last } = this;
    const before = this.board.marks().find((m) => m.id === last?.id)?.mark;
    if (last && before?.strokes && this.goesOn(before, stroke, surface, this.begunAt - last.at)) {
      this.board.change(last.id, { ...before, strokes: [...before.strokes, stroke] });
      this.last = { id: last.id, at: endedAt };
      return;
    }
    const id = this.board.make({ kind: 'pen', surface, strokes: [stroke] }, false);
    this.last = { id, at: endedAt };
  }

  private goesOn(before: WorkMark, stroke: StrokePoint[], surface: Surface, after: number): boolean {
    const points = before.strokes!.reduce((n, s) => n + s.length, stroke.length);
    if (points > MOST.points) return false;
    const here = before.surface.on === surface.on && before.surface.index === surface.index;
    return here && after < TOGETHER && before.ink === this.board.ink() && before.strokes!.length < MOST_TOGETHER;
  }

  private drop(): void {
    this.pen?.end();
    this.pen = null;
    this.from = null;
    this.anchor = null;
    this.moving = null;
    this.on.showArea(null);
    this.on.showMoved(null);
  }
}

const boxOf = (a: Point, b: Point): Box => [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1])]; // prettier-ignore
