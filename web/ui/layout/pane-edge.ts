import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';

/** Pixels that an arrow key moves it. */
const STEP = 16;

/** The edge between two panes, moved by pointer or arrows; a double click puts it back. */
@Component({
  selector: 'lt-pane-edge',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '',
  host: {
    role: 'separator',
    'aria-orientation': 'vertical',
    tabindex: '0',
    '[attr.aria-label]': 'label()',
    '[attr.aria-valuenow]': 'size()',
    '[attr.aria-valuemin]': 'least()',
    '[attr.aria-valuemax]': 'most()',
    '(pointerdown)': 'begin($event)',
    '(pointermove)': 'drag($event)',
    '(pointerup)': 'from = null',
    '(pointercancel)': 'from = null',
    '(dblclick)': 'size.set(usual())',
    '(keydown)': 'key($event)',
  },
  styles: `
    :host {
      display: block;
      width: 7px;
      margin: 0 -3px;
      z-index: 1;
      cursor: col-resize;
      touch-action: none;
    }
    :host(:hover),
    :host(:focus-visible) {
      background: linear-gradient(to right, transparent 2px, var(--teal) 2px 5px, transparent 5px);
      outline: none;
    }
  `,
})
export class PaneEdge {
  readonly label = input.required<string>();
  /** Of the pane before it, or after it. */
  readonly size = model.required<number>();
  readonly of = input<'before' | 'after'>('before');
  readonly usual = input.required<number>();
  readonly least = input(120);
  readonly most = input(520);
  /** Where the pointer and the edge were as it was taken. */
  protected from: { x: number; size: number } | null = null;
  private readonly way = computed(() => (this.of() === 'after' ? -1 : 1));
  private readonly bounds = computed(() => [this.least(), this.most()] as const);

  protected begin(event: PointerEvent): void {
    (event.target as HTMLElement).setPointerCapture(event.pointerId);
    this.from = { x: event.clientX, size: this.size() };
  }

  protected drag(event: PointerEvent): void {
    if (this.from) this.set(this.from.size + this.way() * (event.clientX - this.from.x));
  }

  protected key(event: KeyboardEvent): void {
    const by = event.key === 'ArrowLeft' ? -STEP : event.key === 'ArrowRight' ? STEP : 0;
    if (by === 0) return;
    this.set(this.size() + this.way() * by);
    event.preventDefault();
    event.stopPropagation();
  }

  private set(size: number): void {
    const [least, most] = this.bounds();
    this.size.set(Math.round(Math.max(least, Math.min(most, size))));
  }
}
