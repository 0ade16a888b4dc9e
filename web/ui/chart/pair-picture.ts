import { counted, listed } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input } from '@angular/core';
import { Decimals } from '../text/decimals';
import { max, scaleLinear } from 'd3';
import { alike } from '@core/statistics/spread';

export interface Pair {
  name: string;
  x: number;
  y: number;
}

const SIZE = 460;
const LEFT = 46;
const FOOT = 40;

/** Two assessments against each other, a dot for each student; those far from where the others lie are named. */
@Component({
  selector: 'lt-pair-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Decimals],
  template: `
    <svg
      [attr.viewBox]="'0 0 ' + size + ' ' + size"
      role="img"
      [attr.aria-label]="words()"
      xmlns="http://www.w3.org/2000/svg"
      font-family="Atkinson Hyperlegible Next Variable, Atkinson Hyperlegible Next, sans-serif"
      font-size="11"
    >
      @for (t of ticks(); track t) {
        <line [attr.x1]="x()(t)" [attr.x2]="x()(t)" [attr.y1]="y()(0)" [attr.y2]="y()(most())" stroke="var(--rule)" />
        <line [attr.x1]="x()(0)" [attr.x2]="x()(most())" [attr.y1]="y()(t)" [attr.y2]="y()(t)" stroke="var(--rule)" />
        <text [attr.x]="x()(t)" [attr.y]="y()(0) + 14" text-anchor="middle" fill="var(--pencil)">{{ t }}</text>
        <text [attr.x]="x()(0) - 6" [attr.y]="y()(t) + 4" text-anchor="end" fill="var(--pencil)">{{ t }}</text>
      }
      @if (line(); as l) {
        <line
          [attr.x1]="x()(l.x1)"
          [attr.y1]="y()(l.y1)"
          [attr.x2]="x()(l.x2)"
          [attr.y2]="y()(l.y2)"
          stroke="var(--range)"
          stroke-width="2"
        />
      }
      @for (d of dots(); track $index) {
        <circle
          [attr.cx]="x()(d.x)"
          [attr.cy]="y()(d.y)"
          r="4"
          [attr.fill]="d.odd ? 'var(--plum)' : 'var(--ink)'"
          fill-opacity="0.8"
        >
          <title>{{ d.name }}: {{ d.x.toFixed(1) | decimals }} and {{ d.y.toFixed(1) | decimals }} %</title>
        </circle>
      }
      @for (n of labels(); track $index) {
        <text [attr.x]="n.x" [attr.y]="n.y" [attr.text-anchor]="n.anchor" fill="var(--plum)" font-size="12">
          {{ n.name }}
        </text>
      }
      <text [attr.x]="size / 2 + 20" [attr.y]="size - 6" text-anchor="middle" fill="var(--ink)" font-size="12">
        {{ across() }}, %
      </text>
      <text
        [attr.transform]="'translate(12 ' + size / 2 + ') rotate(-90)'"
        text-anchor="middle"
        fill="var(--ink)"
        font-size="12"
      >
        {{ up() }}, %
      </text>
    </svg>
  `,
  styles: `
    :host,
    svg {
      display: block;
      width: 100%;
    }
  `,
})
export class PairPicture {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly pairs = input.required<readonly Pair[]>();
  readonly across = input.required<string>();
  readonly up = input.required<string>();
  protected readonly size = SIZE;
  protected readonly most = computed(() =>
    Math.max(100, Math.ceil((max(this.pairs(), (p) => Math.max(p.x, p.y)) ?? 0) / 10) * 10),
  );
  protected readonly x = computed(() => scaleLinear([0, this.most()], [LEFT, SIZE - 10]));
  protected readonly y = computed(() => scaleLinear([0, this.most()], [SIZE - FOOT, 10]));
  protected readonly ticks = computed(() => this.x().ticks(5));
  readonly fit = computed(() => alike(this.pairs().map((p) => [p.x, p.y] as const)));
  protected readonly line = computed(() => {
    const fit = this.fit();
    if (!fit) return null;
    const at = (x: number): number => Math.max(0, Math.min(this.most(), fit.slope * x + fit.base));
    return { x1: 0, y1: at(0), x2: this.most(), y2: at(this.most()) };
  });

  /** Odd: further from the line than twice what is usual. */
  protected readonly dots = computed(() => {
    const fit = this.fit();
    const off = this.pairs().map((p) => (fit ? p.y - (fit.slope * p.x + fit.base) : 0));
    const usual = Math.sqrt(off.reduce((sum, o) => sum + o * o, 0) / Math.max(1, off.length));
    return this.pairs().map((p, i) => ({ ...p, odd: Math.abs(off[i]!) > 2 * usual && Math.abs(off[i]!) > 5 }));
  });
  /** Names beside the odd dots; where two would lie over each other, one stands higher. */
  protected readonly labels = computed(() => {
    const placed: { name: string; x: number; y: number; anchor: string; left: number; right: number }[] = [];
    for (const d of this.dots().filter((p) => p.odd)) {
      const end = d.x > this.most() * 0.7;
      const x = this.x()(d.x) + (end ? -7 : 7);
      const width = d.name.length * 7;
      const [left, right] = end ? [x - width, x] : [x, x + width];
      let y = this.y()(d.y) + 4;
      while (placed.some((p) => Math.abs(p.y - y) < 12 && p.left < right && left < p.right)) y -= 13;
      placed.push({ name: d.name, x, y, anchor: end ? 'end' : 'start', left, right });
    }
    return placed;
  });
  readonly odd = computed(() =>
    this.dots()
      .filter((d) => d.odd)
      .map((d) => d.name),
  );
  protected readonly words = computed(
    () =>
      `${this.up()} against ${this.across()}, ${counted(this.pairs().length, 'student')}${
        this.odd().length > 0 ? `; far from the others: ${listed(this.odd())}` : ''
      }`,
  );

  get svg(): SVGSVGElement {
    return this.host.nativeElement.querySelector('svg')!;
  }
}
