import { DestroyRef, Directive, effect, ElementRef, inject, input } from '@angular/core';

/**
 * Gives a place the height of what it holds, as `--kept-height`, so that what it holds can be laid out by itself and never
 * moves what is above it. It grows with its content; lower it becomes for another `keptFor` or width alone.
 */
@Directive({ selector: '[ltKeptHeight]' })
export class KeptHeight {
  /** What it holds: as high as the place at least. */
  readonly content = input.required<HTMLElement>({ alias: 'ltKeptHeight' });
  readonly keptFor = input('');
  private readonly place = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private height = 0;
  private width = 0;

  constructor() {
    let frame = 0;
    // A frame later: what is above it is looked at by others in this one.
    const watcher = new ResizeObserver(([entry]) => {
      const { width } = entry!.contentRect;
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        this.fit(width !== this.width);
        this.width = width;
      });
    });
    effect(() => {
      this.keptFor();
      // What is shown instead is measured anew, once it stands there.
      this.width = 0;
      watcher.unobserve(this.content());
      watcher.observe(this.content());
    });
    inject(DestroyRef).onDestroy(() => {
      watcher.disconnect();
      cancelAnimationFrame(frame);
    });
  }

  private fit(anew: boolean): void {
    if (anew) this.set(0);
    const height = Math.ceil(this.content().getBoundingClientRect().height);
    if (height > this.height) this.set(height);
  }

  private set(height: number): void {
    this.height = height;
    this.place.style.setProperty('--kept-height', `${height}px`);
  }
}
