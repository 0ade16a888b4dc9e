/**
 * What a picture is drawn on that is then shown as it is. A canvas that can still be drawn on is handed to the screen anew
 * with every frame of its page, that of a letter typed beside it included; a bitmap is handed over once.
 */
export class StillDrawing {
  /** To draw on, until it is shown. */
  readonly surface: HTMLCanvasElement | OffscreenCanvas;

  constructor(width: number, height: number) {
    const [w, h] = [Math.max(1, Math.floor(width)), Math.max(1, Math.floor(height))];
    if (typeof OffscreenCanvas === 'undefined') {
      this.surface = document.createElement('canvas');
      [this.surface.width, this.surface.height] = [w, h];
    } else this.surface = new OffscreenCanvas(w, h);
  }

  /** Shows it on this canvas, on which nothing else is ever drawn. */
  show(canvas: HTMLCanvasElement): void {
    const { surface } = this;
    [canvas.width, canvas.height] = [surface.width, surface.height];
    if (surface instanceof HTMLCanvasElement) canvas.getContext('2d')!.drawImage(surface, 0, 0);
    else canvas.getContext('bitmaprenderer')!.transferFromImageBitmap(surface.transferToImageBitmap());
  }
}
