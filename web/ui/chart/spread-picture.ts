import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input } from '@angular/core';
import { bin, max, scaleLinear } from 'd3';

export interface Edge {
  label: string;
  from: number;
}

/** A class's percentages as columns on the percent line, with the letters' edges drawn through. */
@Component({
  selector: 'lt-spread-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      [attr.viewBox]="'0 0 ' + width() + ' ' + height()"
      role="img"
      [attr.aria-label]="words()"
      xmlns="http://www.w3.org/2000/svg"
      font-family="Atkinson Hyperlegible Next Variable, Atkinson Hyperlegible Next, sans-serif"
    >
      @for (e of shownEdges(); track e.label) {
        <line [attr.x1]="x()(e.from)" [attr.x2]="x()(e.from)" y1="14" [attr.y2]="foot()" stroke="var(--rule)" />
        <text [attr.x]="x()(e.from) + 3" y="12" font-size="11" fill="var(--pencil)">{{ e.label }}</text>
      }
      @for (b of bars(); track b.from) {
        <rect
          [attr.x]="b.x"
          [attr.y]="b.y"
          [attr.width]="b.width"
          [attr.height]="foot() - b.y"
          fill="var(--ink)"
          rx="1"
        >
          <title>{{ b.count }} from {{ b.from }} to {{ b.to }} %</title>
        </rect>
        @if (large() && b.count > 0) {
          <text [attr.x]="b.x + b.width / 2" [attr.y]="b.y - 4" text-anchor="middle" font-size="11" fill="var(--ink)">
            {{ b.count }}
          </text>
        }
      }
      <line [attr.x1]="x()(0)" [attr.x2]="x()(most())" [attr.y1]="foot()" [attr.y2]="foot()" stroke="var(--ink)" />
      @for (t of ticks(); track t) {
        <text [attr.x]="x()(t)" [attr.y]="foot() + 14" text-anchor="middle" font-size="11" fill="var(--pencil)">
          {{ t }}
        </text>
      }
      @if (mark() !== null) {
        <path [attr.d]="arrow()" fill="var(--umber)"><title>mean</title></path>
      }
    </svg>
  `,
  styles: `
    :host,
    svg {
      display: block;
      width: 100%;
    }
    svg {
      overflow: visible;
    }
  `,
})
export class SpreadPicture {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  /** Percentages; those that are no numbers are left out. */
  readonly values = input.required<readonly number[]>();
  readonly edges = input<readonly Edge[]>([]);
  /** A place on the line to point at, in percent. */
  readonly mark = input<number | null>(null);
  readonly large = input(false);
  readonly title = input('');
  protected readonly width = computed(() => (this.large() ? 760 : 240));
  protected readonly height = computed(() => (this.large() ? 380 : 110));
  protected readonly foot = computed(() => this.height() - 20);
  protected readonly sound = computed(() => this.values().filter((v) => !Number.isNaN(v)));
  /** The line goes to 100, or on to where the highest are. */
  protected readonly most = computed(() => Math.max(100, Math.ceil((max(this.sound()) ?? 0) / 10) * 10));
  protected readonly x = computed(() => scaleLinear([0, this.most()], [8, this.width() - 8]));
  protected readonly ticks = computed(() => this.x().ticks(5));
  protected readonly shownEdges = computed(() => this.edges().filter((e) => e.from > 0 && e.from < this.most()));
  protected readonly bars = computed(() => {
    const step = this.most() > 200 ? 20 : 5;
    const edges = Array.from({ length: this.most() / step }, (_, i) => i * step);
    const bins = bin().domain([0, this.most()]).thresholds(edges)([...this.sound()]);
    const y = scaleLinear([0, Math.max(1, max(bins, (b) => b.length) ?? 1)], [this.foot(), 22]);
    return bins.map((b) => ({
      count: b.length,
      from: b.x0!,
      to: b.x1!,
      x: this.x()(b.x0!) + 0.5,
      width: Math.max(1, this.x()(b.x1!) - this.x()(b.x0!) - 1),
      y: y(b.length),
    }));
  });
  protected readonly arrow = computed(() => {
    const at = this.x()(Math.min(this.mark() ?? 0, this.most()));
    return `M${at} ${this.foot() + 1}l-4 6h8z`;
  });
  protected readonly words = computed(() => {
    const filled = this.bars().filter((b) => b.count > 0);
    return `${this.title()}: ${filled.map((b) => `${b.count} from ${b.from} to ${b.to} percent`).join(', ') || 'nothing yet'}`;
  });

  /** The drawing, for saving and copying it. */
  get svg(): SVGSVGElement {
    return this.host.nativeElement.querySelector('svg')!;
  }
}
