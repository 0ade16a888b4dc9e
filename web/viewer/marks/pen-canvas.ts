import { addPoint, penWidth } from '@core/marks/stroke';
import type { StrokePoint } from '@core/marks/work-mark';

/** Pixels of the canvas at most: on a larger page one draws coarser while one draws. */
const MOST_PIXELS = 8_000_000;

/** A line while it is drawn: it appears under the pen at once, and is a mark when the pen is lifted. */
export class PenCanvas {
  private readonly context: CanvasRenderingContext2D;
  readonly stroke: StrokePoint[] = [];
  private drawn = 0;
  private frame = 0;

  /** `width`, `height`: of the surface in CSS pixels; `top`: where the origin of the points lies, in widths. */
  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly width: number,
    height: number,
    colour: string,
    private readonly top = 0,
  ) {
    const ratio = Math.min(devicePixelRatio || 1, Math.sqrt(MOST_PIXELS / Math.max(1, width * height)));
    canvas.width = Math.max(1, Math.round(width * ratio));
    canvas.height = Math.max(1, Math.round(height * ratio));
    this.context = canvas.getContext('2d', { desynchronized: true })!;
    this.context.setTransform(ratio, 0, 0, ratio, 0, 0);
    this.context.lineCap = 'round';
    this.context.strokeStyle = colour;
  }

  add(points: readonly StrokePoint[]): void {
    for (const p of points) addPoint(this.stroke, p);
    this.frame ||= requestAnimationFrame(() => this.draw());
  }

  /** Draws what came since the last frame. */
  private draw(): void {
    this.frame = 0;
    const { context: c, stroke, width } = this;
    for (let i = Math.max(1, this.drawn); i < stroke.length; i++) {
      const [before, from, to] = [stroke[i - 2], stroke[i - 1]!, stroke[i]!];
      c.lineWidth = Math.max(0.6, penWidth(to[2]) * width);
      c.beginPath();
      const start = before ? this.between(before, from) : this.at(from);
      c.moveTo(...start);
      c.quadraticCurveTo(...this.at(from), ...this.between(from, to));
      c.stroke();
    }
    this.drawn = stroke.length;
  }

  private at([x, y]: StrokePoint): [number, number] {
    return [x * this.width, (y + this.top) * this.width];
  }

  private between(a: StrokePoint, b: StrokePoint): [number, number] {
    return this.at([(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, 0]);
  }

  end(): void {
    cancelAnimationFrame(this.frame);
    // The mark is in its place by the next frame.
    requestAnimationFrame(() => this.canvas.remove());
  }
}
