import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  ElementRef,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChildren,
} from '@angular/core';
import type { PDFDocumentProxy, PDFPageProxy, RenderTask, TextLayer } from 'pdfjs-dist';
import { FindBoard } from './find/find-board';
import { MarkBoard } from './marks/mark-board';
import { SurfaceMarks } from './marks/surface-marks';
import { PagesInSight } from './pages-in-sight';
import { PDF_PATIENCE, pdfFault, pdfLibrary } from './pdf-library';
import { spreadLetters } from './spread-letters';
import { StillDrawing } from './still-drawing';

/** Pages that are laid out; a longer document is read in the original. */
const MOST_PAGES = 2_000;
/** Pixels that one page is drawn in at most: a larger one is drawn coarser. */
const MOST_PIXELS = 16_000_000;

interface Page {
  number: number;
  width: number;
  height: number;
}

/** The pages of one PDF below each other, drawn as they come in sight, with their text to be found and chosen. */
@Component({
  selector: 'lt-pdf-pages',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SurfaceMarks],
  template: `
    @for (p of pages(); track p.number) {
      <div
        #sheet
        class="page"
        [attr.data-page]="p.number"
        [attr.aria-label]="'Page ' + p.number"
        role="group"
        [style.width.px]="widthOf(p)"
        [style.height.px]="heightOf(p)"
      >
        <div class="drawn"></div>
        @if (board && (near().has(p.number) || marked().has(p.number))) {
          <lt-surface-marks
            on="page"
            [index]="p.number - 1"
            [width]="turned ? heightOf(p) : widthOf(p)"
            [height]="turned ? widthOf(p) : heightOf(p)"
            [turn]="turn()"
          />
        }
      </div>
    }
    @if (rest() > 0) {
      <p class="rest">{{ rest() }} more pages are read in the original.</p>
    }
  `,
  styleUrl: './pdf-pages.css',
})
export class PdfPages {
  readonly document = input.required<PDFDocumentProxy>();
  /** Width in which a page is laid out, in CSS pixels at 100 %. */
  readonly width = input.required<number>();
  readonly zoom = input(1);
  readonly turn = input(0);
  readonly failed = output<string>();
  /** A page keeps the reader busy for too long. */
  readonly stuck = output<void>();
  readonly counted = output<number>();
  protected readonly pages = signal<Page[]>([]);
  /** Pages beyond those that are laid out. */
  protected readonly rest = signal(0);
  private readonly sheets = viewChildren<ElementRef<HTMLElement>>('sheet');
  private readonly drawn = new Map<number, Drawn>();
  /** Pages in sight or nearly. */
  protected readonly near = signal<ReadonlySet<number>>(new Set());
  protected readonly board = inject(MarkBoard, { optional: true });
  protected readonly marked = computed(
    () => new Set((this.board?.marks() ?? []).flatMap(({ mark: { surface: s } }) => (s.on === 'page' ? [s.index + 1] : []))), // prettier-ignore
  );
  private readonly find = inject(FindBoard, { optional: true });
  private ended = false;

  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    const inSight = new PagesInSight(host, (places) => this.follow(places));
    inject(DestroyRef).onDestroy(() => {
      this.ended = true;
      this.find?.pages.set(null);
      inSight.end();
      for (const d of this.drawn.values()) d.stop();
    });
    // Once, when the document is there: a viewer shows one file and ends with it.
    queueMicrotask(() => {
      this.layOut().catch((error: unknown) => {
        if (!this.ended) this.failed.emit(pdfFault(error));
      });
    });
    afterRenderEffect(() => {
      const sheets = this.sheets();
      // A page that turns out to be of another size is drawn in that.
      this.pages();
      this.zoom();
      this.turn();
      this.width();
      inSight.watch(sheets.map((s) => s.nativeElement));
      for (const n of untracked(this.near)) void this.draw(n);
    });
  }

  protected get turned(): boolean {
    return this.turn() % 180 !== 0;
  }

  private scaleOf(p: Page): number {
    return (this.width() / (this.turned ? p.height : p.width)) * this.zoom();
  }

  protected widthOf(p: Page): number {
    return Math.floor((this.turned ? p.height : p.width) * this.scaleOf(p));
  }

  protected heightOf(p: Page): number {
    return Math.floor((this.turned ? p.width : p.height) * this.scaleOf(p));
  }

  private async layOut(): Promise<void> {
    const document = this.document();
    const first = await document.getPage(1);
    if (this.ended) return;
    const { width, height } = first.getViewport({ scale: 1 });
    const count = Math.min(document.numPages, MOST_PAGES);
    // Every page as the first until it is known better: pages of one paper are the rule.
    this.pages.set(Array.from({ length: count }, (_, i) => ({ number: i + 1, width, height })));
    this.rest.set(document.numPages - count);
    this.counted.emit(document.numPages);
    this.find?.pages.set({ count, textOf: (n) => this.textOf(n), show: (n) => this.show(n) });
  }

  private async textOf(n: number): Promise<string> {
    const page = await this.document().getPage(n);
    const { items } = await page.getTextContent();
    return items.map((i) => ('str' in i ? `${i.str}${i.hasEOL ? '\n' : ''}` : '')).join('');
  }

  /** Brings a page into sight; gives it once its text is drawn. */
  private async show(n: number): Promise<HTMLElement | null> {
    const sheet = this.sheets()[n - 1]?.nativeElement;
    if (!sheet) return null;
    if (!this.near().has(n)) sheet.scrollIntoView({ block: 'start' });
    for (const until = performance.now() + PDF_PATIENCE; !this.ended && performance.now() < until;) {
      if (this.drawn.get(n)?.isReadable) return sheet;
      await new Promise(requestAnimationFrame);
    }
    return null;
  }

  private follow(places: ReadonlySet<number>): void {
    const now = new Set([...places].map((place) => place + 1));
    for (const n of this.near())
      if (!now.has(n)) {
        // What is out of sight gives its memory back.
        this.drawn.get(n)?.stop();
        this.drawn.delete(n);
      }
    this.near.set(now);
    for (const n of now) void this.draw(n);
  }

  private async draw(n: number): Promise<void> {
    const [p, sheet] = [this.pages()[n - 1], this.sheets()[n - 1]?.nativeElement.firstElementChild as HTMLElement];
    if (!p || !sheet) return;
    const as = `${this.scaleOf(p)} ${this.turn()}`;
    if (this.drawn.get(n)?.as === as) return;
    this.drawn.get(n)?.stop();
    const drawn = new Drawn(as, sheet);
    this.drawn.set(n, drawn);
    const timer = setTimeout(() => {
      if (drawn.stopped) return;
      this.failed.emit(`Page ${n} of this PDF takes too long to be shown.`);
      this.stuck.emit();
    }, PDF_PATIENCE);
    try {
      const page = await this.document().getPage(n);
      if (drawn.stopped) return;
      const own = page.getViewport({ scale: 1 });
      if (Math.abs(own.width - p.width) > 0.5 || Math.abs(own.height - p.height) > 0.5) {
        drawn.stop();
        this.drawn.delete(n);
        this.pages.update((all) => all.map((x) => (x.number === n ? { ...x, width: own.width, height: own.height } : x))); // prettier-ignore
        return;
      }
      await drawn.draw(page, this.scaleOf(p), (page.rotate + this.turn()) % 360);
      if (drawn.isReadable) this.find?.paint();
    } catch (error) {
      if (!drawn.stopped && (error as Error).name !== 'RenderingCancelledException')
        drawn.say(`Page ${n} cannot be shown.`);
    } finally {
      clearTimeout(timer);
    }
  }
}

/** One page as it is drawn: its canvas and its text. */
class Drawn {
  stopped = false;
  /** Its text is there too. */
  isReadable = false;
  private task: RenderTask | null = null;
  private text: TextLayer | null = null;

  constructor(
    readonly as: string,
    private readonly sheet: HTMLElement,
  ) {}

  async draw(page: PDFPageProxy, scale: number, rotation: number): Promise<void> {
    const viewport = page.getViewport({ scale, rotation });
    const ratio = Math.min(devicePixelRatio || 1, Math.sqrt(MOST_PIXELS / (viewport.width * viewport.height)));
    const drawing = new StillDrawing(viewport.width * ratio, viewport.height * ratio);
    // The library asks for a canvas of the page, and uses nothing of it that one without a page has not.
    const surface = drawing.surface as HTMLCanvasElement;
    this.task = page.render({ canvas: surface, viewport, transform: [ratio, 0, 0, ratio, 0, 0] });
    await this.task.promise;
    if (this.stopped) return;
    const canvas = document.createElement('canvas');
    drawing.show(canvas);
    const text = document.createElement('div');
    text.className = 'textLayer';
    text.dataset['text'] = '';
    this.sheet.replaceChildren(canvas, text);
    this.sheet.style.setProperty('--total-scale-factor', String(scale));
    this.sheet.style.setProperty('--scale-round-x', '1px');
    this.sheet.style.setProperty('--scale-round-y', '1px');
    this.sheet.parentElement!.dataset['drawn'] = 'yes';
    const { TextLayer } = await pdfLibrary();
    if (this.stopped) return;
    this.text = new TextLayer({ textContentSource: page.streamTextContent(), container: text, viewport });
    await this.text.render();
    spreadLetters(text, this.text.textDivs);
    this.isReadable = true;
  }

  say(words: string): void {
    const p = document.createElement('p');
    p.textContent = words;
    this.sheet.replaceChildren(p);
  }

  stop(): void {
    this.stopped = true;
    this.task?.cancel();
    this.text?.cancel();
    this.sheet.replaceChildren();
    delete this.sheet.parentElement?.dataset['drawn'];
  }
}
