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
import { scaleLinear } from 'd3';
import { placeIn } from '../../../ui/chart/svg-place';

interface Band {
  label: string;
  from: number;
}

/** The class as dots on the percent line, with each letter's edge to be dragged along it. */
@Component({
  selector: 'lt-letters-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      #picture
      viewBox="0 0 640 170"
      role="group"
      aria-label="The class on the percent line, with the letters' edges"
      (pointermove)="move($event)"
      (pointerup)="held = null"
      (pointercancel)="held = null"
    >
      @for (d of dots(); track $index) {
        <circle [attr.cx]="d.x" [attr.cy]="d.y" r="3.2" [class.crosses]="d.crosses" />
      }
      <line class="axis" x1="16" x2="624" y1="132" y2="132" />
      @for (t of x().ticks(8); track t) {
        <text [attr.x]="x()(t)" y="164" text-anchor="middle">{{ t }}</text>
      }
      @for (e of edges(); track e.label) {
        <g
          class="edge"
          [class.fixed]="fixed()"
          [attr.tabindex]="fixed() ? null : 0"
          role="slider"
          [attr.aria-label]="'Where ' + e.label + ' begins'"
          [attr.aria-valuenow]="e.from"
          aria-valuemin="0"
          aria-valuemax="100"
          [attr.aria-valuetext]="e.from + ' percent'"
          [attr.aria-disabled]="fixed()"
          (pointerdown)="take($event, e)"
          (keydown)="step($event, e)"
        >
          <rect [attr.x]="x()(e.from) - 8" y="4" width="16" height="142" fill="transparent" />
          <line [attr.x1]="x()(e.from)" [attr.x2]="x()(e.from)" y1="22" y2="140" />
          <circle class="grip" [attr.cx]="x()(e.from)" cy="140" r="5" />
          <text class="letter" [attr.x]="x()(e.from) + 5" y="18">{{ e.label }}</text>
        </g>
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      max-width: 700px;
      margin: 6px 0 14px;
      touch-action: none;
      user-select: none;
    }
    text {
      font: 11px var(--sans);
      fill: var(--pencil);
    }
    .letter {
      font: 600 14px var(--serif);
      fill: var(--ink);
    }
    circle {
      fill: var(--range);
    }
    circle.crosses {
      fill: var(--plum);
    }
    .axis {
      stroke: var(--ink);
    }
    .edge {
      cursor: ew-resize;
      outline: none;
    }
    .edge.fixed {
      cursor: default;
    }
    .edge line {
      stroke: var(--pencil);
      stroke-dasharray: 2 3;
    }
    .edge .grip {
      fill: var(--teal);
    }
    .edge:focus-visible rect {
      stroke: var(--teal);
      stroke-width: 2;
    }
  `,
})
export class LettersPicture {
  readonly bands = input.required<readonly Band[]>();
  /** Percentages of the class in the trial; those whose letter is another. */
  readonly line = input.required<readonly { at: number; crosses: boolean }[]>();
  readonly fixed = input(false);
  readonly moved = output<{ label: string; from: number }>();
  private readonly latest = linkedSignal(() => this.bands());
  protected held: string | null = null;
  private readonly picture = viewChild.required<ElementRef<SVGSVGElement>>('picture');
  protected readonly x = computed(() => {
    const all = [...this.bands().map((b) => b.from), ...this.line().map((l) => l.at)].filter((n) => !Number.isNaN(n));
    const low = Math.max(0, Math.floor((Math.min(50, ...all.filter((n) => n > 0)) - 5) / 10) * 10);
    return scaleLinear([low, Math.max(100, ...all)], [24, 616]);
  });
  /** The last letter begins at 0 and has no edge. */
  protected readonly edges = computed(() => this.bands().filter((b) => b.from > 0));
  /** One dot a student, stacked where several stand at the same place; a dot stands for several in a large class. */
  protected readonly dots = computed(() => {
    const x = this.x();
    const [low] = x.domain() as [number, number];
    const width = 7;
    const stacks = new Map<number, { crosses: boolean }[]>();
    for (const l of this.line()) {
      if (Number.isNaN(l.at)) continue;
      const place = Math.round(x(Math.max(low, l.at)) / width);
      stacks.set(place, [...(stacks.get(place) ?? []), l]);
    }
    const tallest = Math.max(1, ...[...stacks.values()].map((s) => s.length));
    const rise = Math.min(width, 100 / tallest);
    return [...stacks].flatMap(([place, list]) =>
      list
        .sort((a, b) => Number(b.crosses) - Number(a.crosses))
        .map((l, n) => ({ x: place * width, y: 127 - n * rise, crosses: l.crosses })),
    );
  });

  protected take(event: PointerEvent, band: Band): void {
    if (this.fixed()) return;
    this.held = band.label;
    this.picture().nativeElement.setPointerCapture(event.pointerId);
  }

  protected move(event: PointerEvent): void {
    const band = this.bands().find((b) => b.label === this.held);
    if (!band) return;
    this.say(band, this.x().invert(placeIn(this.picture().nativeElement, event).x), 0.5);
  }

  /** Arrows by a whole percent, with shift by a tenth. */
  protected step(event: KeyboardEvent, band: Band): void {
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (by === undefined || this.fixed()) return;
    event.preventDefault();
    // As it was moved last: the next key goes on from there, though the page has not come round yet.
    const now = this.latest().find((b) => b.label === band.label) ?? band;
    this.say(now, now.from + by * (event.shiftKey ? 0.1 : 1), event.shiftKey ? 0.1 : 0.01);
  }

  /** No letter goes over its neighbour, and none but the last comes to 0. */
  private say(band: Band, at: number, to: number): void {
    const round = (n: number): number => Math.round(Math.round(n / to) * to * 10_000) / 10_000;
    const sorted = [...this.latest()].sort((a, b) => a.from - b.from);
    const i = sorted.findIndex((b) => b.label === band.label);
    const least = (sorted[i - 1]?.from ?? 0) + 0.1;
    const most = (sorted[i + 1]?.from ?? 1000) - 0.1;
    const from = Math.round(Math.min(most, Math.max(least, round(at))) * 10_000) / 10_000;
    if (from === band.from) return;
    this.latest.update((all) => all.map((b) => (b.label === band.label ? { ...b, from } : b)));
    this.moved.emit({ label: band.label, from });
  }
}
