import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  ElementRef,
  inject,
  input,
  signal,
} from '@angular/core';
import type { Surface } from '@core/marks/work-mark';
import { MarkBoard } from './mark-board';
import { SurfaceMarks } from './surface-marks';

/** Marks over a leaf whose text flows, in its element; nothing where nothing is marked. */
@Component({
  selector: 'lt-flow-surface',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SurfaceMarks],
  template: `@if (board && size(); as s) {
    <lt-surface-marks
      [on]="on()"
      [index]="index()"
      [width]="s.width"
      [height]="s.height"
      [flow]="text()"
      [laidOut]="laidOut()"
    />
  }`,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class FlowSurface {
  readonly on = input<Surface['on']>('whole');
  readonly index = input(0);
  /** The element that the text stands in. */
  readonly text = input.required<HTMLElement>();
  protected readonly board = inject(MarkBoard, { optional: true });
  private readonly measured = signal<{ width: number; height: number } | null>(null);
  protected readonly size = computed(() => (this.measured() && this.measured()!.width > 0 ? this.measured() : null));
  protected readonly laidOut = signal(0);

  constructor() {
    const paper = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement.parentElement!;
    const watcher = new ResizeObserver(() => {
      this.measured.set({ width: paper.offsetWidth, height: paper.offsetHeight });
      this.laidOut.update((n) => n + 1);
    });
    queueMicrotask(() => {
      watcher.observe(paper);
      // A picture that comes late moves what stands below it, though the paper stays as high.
      watcher.observe(this.text());
    });
    inject(DestroyRef).onDestroy(() => watcher.disconnect());
  }
}
