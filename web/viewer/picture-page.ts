import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { MarkBoard } from './marks/mark-board';
import { SurfaceMarks } from './marks/surface-marks';
import { StillDrawing } from './still-drawing';

/** Pixels of the canvas at most: a larger picture is drawn coarser. */
const MOST_PIXELS = 16_000_000;

/** A photograph, turned as its camera was held and as somebody turned it since. */
@Component({
  selector: 'lt-picture-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SurfaceMarks],
  template: `<div class="picture" [style.width.px]="size().width" [style.height.px]="size().height">
    <canvas
      #canvas
      role="img"
      [attr.aria-label]="name()"
      [attr.data-drawn]="drawn() ? 'yes' : null"
      [style.width.px]="size().width"
      [style.height.px]="size().height"
    ></canvas>
    @if (board) {
      <lt-surface-marks
        on="whole"
        [width]="across() ? size().height : size().width"
        [height]="across() ? size().width : size().height"
        [turn]="turn()"
      />
    }
  </div>`,
  styles: `
    :host {
      display: grid;
      justify-content: safe center;
    }
    .picture {
      position: relative;
      overflow: hidden;
    }
    canvas {
      display: block;
      background: #fff;
      box-shadow: 0 0 0 1px var(--rule);
    }
  `,
})
export class PicturePage {
  readonly picture = input.required<ImageBitmap>();
  readonly name = input.required<string>();
  readonly width = input.required<number>();
  readonly zoom = input(1);
  readonly turn = input(0);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly drawn = signal(false);
  protected readonly board = inject(MarkBoard, { optional: true });
  protected readonly across = computed(() => this.turn() % 180 !== 0);
  /** Laid out as wide as the page, never larger than it is. */
  protected readonly size = computed(() => {
    const picture = this.picture();
    const [w, h] = this.across() ? [picture.height, picture.width] : [picture.width, picture.height];
    const scale = Math.min(1, this.width() / w) * this.zoom();
    return { width: Math.round(w * scale), height: Math.round(h * scale) };
  });

  constructor() {
    afterRenderEffect(() => {
      const [picture, { width, height }, turn] = [this.picture(), this.size(), this.turn()];
      const ratio = Math.min(devicePixelRatio || 1, Math.sqrt(MOST_PIXELS / Math.max(1, width * height)));
      const drawing = new StillDrawing(Math.round(width * ratio), Math.round(height * ratio));
      const { surface } = drawing;
      const context = surface.getContext('2d') as CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;
      context.translate(surface.width / 2, surface.height / 2);
      context.rotate((turn * Math.PI) / 180);
      const [w, h] = turn % 180 === 0 ? [surface.width, surface.height] : [surface.height, surface.width];
      context.imageSmoothingQuality = 'high';
      context.drawImage(picture, -w / 2, -h / 2, w, h);
      drawing.show(this.canvas().nativeElement);
      this.drawn.set(true);
    });
  }
}
