import {
  ChangeDetectionStrategy,
  Component,
  computed,
  linkedSignal,
  type ElementRef,
  input,
  output,
  viewChild,
} from '@angular/core';
import { line, scaleLinear } from 'd3';
import type { Curve } from '@core/book/document';
import { curved } from '@core/statistics/class-tools';
import { placeIn } from '../../../ui/chart/svg-place';

/** One assessment's curve: each score as a tick below as marked and at the left as it counts; a line's points are dragged. */
@Component({
  selector: 'lt-curve-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      #picture
      viewBox="0 0 300 262"
      role="group"
      [attr.aria-label]="'The curve of ' + title()"
      (pointermove)="move($event)"
      (pointerup)="held = null"
      (pointercancel)="held = null"
    >
      <line class="same" [attr.x1]="x()(0)" [attr.y1]="y()(0)" [attr.x2]="x()(top())" [attr.y2]="y()(top())" />
      @for (t of x().ticks(5); track t) {
        <text [attr.x]="x()(t)" y="258" text-anchor="middle">{{ t }}</text>
        <text x="22" [attr.y]="y()(t) + 4" text-anchor="end">{{ t }}</text>
      }
      <line class="axis" [attr.x1]="x()(0)" [attr.x2]="x()(top())" y1="230" y2="230" />
      <line class="axis" x1="40" x2="40" [attr.y1]="y()(0)" [attr.y2]="y()(top())" />
      @for (s of scores(); track $index) {
        <line class="tick" [attr.x1]="x()(s)" [attr.x2]="x()(s)" y1="232" y2="240" />
        <line class="tick after" x1="29" x2="38" [attr.y1]="y()(after(s))" [attr.y2]="y()(after(s))" />
      }
      <path [attr.d]="path()" />
      @for (p of whole() ? [] : points(); track $index; let n = $index) {
        <g
          class="point"
          role="slider"
          [attr.tabindex]="fixed() ? null : 0"
          [attr.aria-label]="'Point ' + (n + 1) + ' of the line'"
          [attr.aria-valuenow]="p[1]"
          aria-valuemin="0"
          [attr.aria-valuemax]="top()"
          [attr.aria-valuetext]="p[0] + ' marked become ' + p[1]"
          [attr.aria-disabled]="fixed()"
          (pointerdown)="take($event, n)"
          (keydown)="step($event, n)"
        >
          <circle class="reach" [attr.cx]="x()(p[0])" [attr.cy]="y()(p[1])" r="11" />
          <circle class="grip" [attr.cx]="x()(p[0])" [attr.cy]="y()(p[1])" r="5" />
        </g>
      }
      <text class="what" x="24" y="12">{{ title() }}: marked, and what it counts</text>
    </svg>
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      max-width: 380px;
      margin: 6px 0 14px;
      touch-action: none;
      user-select: none;
    }
    text {
      font: 11px var(--sans);
      fill: var(--pencil);
    }
    .what {
      font: 600 12px var(--sans);
      fill: var(--ink);
    }
    .axis {
      stroke: var(--ink);
    }
    .same {
      stroke: var(--rule);
      stroke-dasharray: 3 3;
    }
    .tick {
      stroke: var(--pencil);
      opacity: 0.6;
    }
    .tick.after {
      stroke: var(--plum);
    }
    path {
      fill: none;
      stroke: var(--plum);
      stroke-width: 2;
    }
    .point {
      cursor: grab;
      outline: none;
    }
    .reach {
      fill: transparent;
    }
    .grip {
      fill: var(--teal);
    }
    .point:focus-visible .reach {
      stroke: var(--teal);
      stroke-width: 2;
    }
  `,
})
export class CurvePicture {
  readonly title = input.required<string>();
  readonly curve = input.required<Curve | null>();
  /** Full marks. */
  readonly full = input.required<number>();
  /** Points marked, one for each score. */
  readonly scores = input.required<readonly number[]>();
  readonly fixed = input(false);
  /** It is drawn without points to drag. */
  readonly whole = input(false);
  readonly said = output<[number, number][]>();
  protected held: number | null = null;
  private readonly picture = viewChild.required<ElementRef<SVGSVGElement>>('picture');
  /** As they were moved last: the next key goes on from there, though the page has not come round yet. */
  protected readonly points = linkedSignal((): readonly [number, number][] => {
    const curve = this.curve();
    return curve?.kind === 'line' ? curve.through : [];
  });
  protected readonly top = computed(() => {
    const all = [...this.scores(), ...this.points().flat(), this.full()];
    return Math.max(1, ...all, ...all.map((s) => this.after(s)));
  });
  protected readonly x = computed(() => scaleLinear([0, this.top()], [40, 288]));
  protected readonly y = computed(() => scaleLinear([0, this.top()], [230, 26]));
  protected readonly path = computed(() => {
    const bends = this.points().map((p) => p[0]);
    const raws = [...Array.from({ length: 81 }, (_, i) => (i / 80) * this.top()), ...bends].sort((a, b) => a - b);
    return (
      line<number>(
        (s) => this.x()(s),
        (s) => this.y()(this.after(s)),
      )(raws) ?? ''
    );
  });

  protected after(raw: number): number {
    return curved(this.curve(), raw, this.full());
  }

  protected take(event: PointerEvent, n: number): void {
    if (this.fixed()) return;
    this.held = n;
    this.picture().nativeElement.setPointerCapture(event.pointerId);
  }

  protected move(event: PointerEvent): void {
    if (this.held === null) return;
    const place = placeIn(this.picture().nativeElement, event);
    const at = (part: number): number => Math.round(part * 2) / 2;
    this.say(this.held, at(this.x().invert(place.x)), at(this.y().invert(place.y)));
  }

  /** Arrows by one point, with shift by a tenth. */
  protected step(event: KeyboardEvent, n: number): void {
    const by = event.shiftKey ? 0.1 : 1;
    const move = { ArrowRight: [by, 0], ArrowLeft: [-by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }[event.key];
    if (!move || this.fixed()) return;
    event.preventDefault();
    const [x, y] = this.points()[n]!;
    this.say(n, x + move[0]!, y + move[1]!);
  }

  /** Points stay in their order: one never goes over the next. */
  private say(n: number, x: number, y: number): void {
    const points = this.points();
    const least = n === 0 ? 0 : points[n - 1]![0] + 0.1;
    const most = n === points.length - 1 ? 1_000_000 : points[n + 1]![0] - 0.1;
    const round = (v: number): number => Math.round(v * 100) / 100;
    const next: [number, number] = [round(Math.min(most, Math.max(least, x))), round(Math.max(0, y))];
    const [was_x, was_y] = points[n]!;
    if (next[0] === was_x && next[1] === was_y) return;
    const moved = points.map((p, i): [number, number] => (i === n ? next : [p[0], p[1]]));
    this.points.set(moved);
    this.said.emit(moved);
  }
}
