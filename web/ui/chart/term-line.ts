import { inDecimals } from '../text/locale';
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { Decimals } from '../text/decimals';
import { curveStepAfter, line, scaleLinear, scaleTime } from 'd3';
import type { StandingAt } from '../../worker/protocol';
import { day } from '../text/dates';
import type { Edge } from './spread-picture';

const WIDTH = 520;
const HEIGHT = 180;
const LEFT = 34;
const RIGHT = WIDTH - 60;

/** A standing over the term as a line, with the letters' edges. */
@Component({
  selector: 'lt-term-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Decimals],
  template: `
    <svg
      [attr.viewBox]="'0 0 ' + width + ' ' + height"
      role="img"
      [attr.aria-label]="words()"
      xmlns="http://www.w3.org/2000/svg"
      font-size="11"
    >
      @for (e of shownEdges(); track e.label) {
        <line [attr.x1]="left" [attr.x2]="right" [attr.y1]="y()(e.from)" [attr.y2]="y()(e.from)" stroke="var(--rule)" />
        <text [attr.x]="left - 6" [attr.y]="y()(e.from) + 4" text-anchor="end" fill="var(--pencil)">{{ e.label }}</text>
      }
      <path [attr.d]="path()" fill="none" stroke="var(--ink)" stroke-width="2" />
      @for (p of shown(); track p.at) {
        <circle [attr.cx]="x()(p.at)" [attr.cy]="y()(p.standing.at)" r="3" fill="var(--ink)">
          <title>{{ dayOf(p.at) }}: {{ p.standing.percent | decimals }} {{ p.standing.letter }}</title>
        </circle>
      }
      @if (last(); as l) {
        <text
          [attr.x]="x()(l.at) + 8"
          [attr.y]="y()(l.standing.at) + 4"
          font-size="13"
          font-weight="700"
          fill="var(--ink)"
        >
          {{ l.standing.percent | decimals }} {{ l.standing.letter }}
        </text>
      }
      @for (t of ticks(); track t.at) {
        <text [attr.x]="t.x" [attr.y]="height - 4" text-anchor="middle" fill="var(--pencil)">{{ t.message }}</text>
      }
    </svg>
  `,
  styles: `
    :host,
    svg {
      display: block;
      width: 100%;
      max-width: 620px;
    }
  `,
})
export class TermLine {
  readonly points = input.required<readonly StandingAt[]>();
  readonly edges = input<readonly Edge[]>([]);
  readonly zone = input.required<string>();
  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;
  protected readonly left = LEFT;
  protected readonly right = RIGHT;
  protected readonly shown = computed(() => this.points().filter((p) => !Number.isNaN(p.standing.at)));
  protected readonly last = computed(() => this.shown()[this.shown().length - 1]);
  protected readonly x = computed(() => {
    const all = this.shown().map((p) => p.at);
    const from = all[0] ?? 0;
    const to = all[all.length - 1] ?? 1;
    return scaleTime([from, Math.max(to, from + 86_400_000)], [LEFT + 6, RIGHT]);
  });
  /** From a little under the lowest to 100, or to the highest above it. */
  protected readonly y = computed(() => {
    const all = this.shown().map((p) => p.standing.at);
    const low = Math.max(0, Math.floor((Math.min(100, ...all) - 10) / 10) * 10);
    return scaleLinear([low, Math.max(100, ...all)], [HEIGHT - 26, 10]);
  });
  protected readonly shownEdges = computed(() => {
    const [low, high] = this.y().domain() as [number, number];
    return this.edges().filter((e) => e.from >= low && e.from <= high);
  });
  protected readonly path = computed(
    () =>
      line<StandingAt>()
        .x((p) => this.x()(p.at))
        .y((p) => this.y()(p.standing.at))
        .curve(curveStepAfter)([...this.shown()]) ?? '',
  );
  protected readonly ticks = computed(() =>
    this.x()
      .ticks(5)
      .map((at) => ({ at: +at, x: this.x()(at), message: day(+at, this.zone()) })),
  );
  protected readonly words = computed(
    () =>
      `Standing over the term: ${
        this.shown()
          .map((p) => `${this.dayOf(p.at)} ${inDecimals(p.standing.percent ?? '')}`)
          .join(', ') || 'none yet'
      }`,
  );

  protected dayOf(at: number): string {
    return day(at, this.zone());
  }
}
