import { counted } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { line, max, scaleLinear } from 'd3';
import type { LateRule } from '@core/book/document';
import { compileLate, lateness } from '@core/calculation/cells/lateness';
import { toNumber } from '@core/exact/fraction';
import { memoize } from '../memoize';

const HOUR = 3_600_000;
const POINTS = 240;

/** A rule without its skipped days, made ready once for all the points of a picture. */
const steadyOf = memoize(({ skipDays: _d, skipDates: _s, ...steady }: LateRule) => compileLate(steady));

/**
 * What a late rule takes at a number of hours that count, in percent; skipped days are left out of it. `bank`: the late
 * days or hours that are spent on it.
 */
export function takenAt(rule: LateRule, hours: number, bank = 0): number {
  const received = new Date(hours * HOUR).toISOString();
  const late = lateness('UTC', steadyOf(rule), { due: 0, closes: null, bank }, { receivedAt: received });
  return late === null ? 0 : toNumber(late.percent);
}

/** The most late days or hours of its bank that a rule gives one assessment. */
const mostOfBank = ({ bank }: LateRule): number => (bank ? Math.min(bank.units, bank.perItem ?? Infinity) : 0);

/** Hours after which the rule takes no more. */
function reach(rule: LateRule): number {
  if (rule.steps) return (max(rule.steps, (s) => s.hours) ?? 24) * 1.35;
  const most = rule.max ?? 100;
  const units = mostOfBank(rule) + (rule.deduct ? Math.ceil(most / rule.deduct) : 4);
  return (Math.min(60, units) + 1) * (rule.unit === 'hour' ? 1 : 24);
}

/** The deduction over time, in force and in the trial. */
@Component({
  selector: 'lt-late-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="0 0 600 150" role="img" [attr.aria-label]="words()">
      @for (t of y().ticks(4); track t) {
        <line class="rule" x1="36" x2="560" [attr.y1]="y()(t)" [attr.y2]="y()(t)" />
        <text x="28" [attr.y]="y()(t) + 4" text-anchor="end">{{ t }}</text>
      }
      @for (t of ticks(); track t.at) {
        <text [attr.x]="x()(t.at)" y="146" text-anchor="middle">{{ t.text }}</text>
      }
      @if (spent(); as s) {
        <path class="spent" [attr.d]="s.path" />
        <!-- Said in the corner that lines which rise leave free. -->
        <line class="spent" x1="540" x2="558" [attr.y1]="y()(0) - 11" [attr.y2]="y()(0) - 11" />
        <text x="534" [attr.y]="y()(0) - 7" text-anchor="end">{{ s.text }}</text>
      }
      @if (closed(); as c) {
        <line class="closed" x1="36" x2="560" [attr.y1]="y()(c)" [attr.y2]="y()(c)" />
        <text x="40" [attr.y]="y()(c) - 5">after it has closed, at least {{ c }} %</text>
      }
      @if (before(); as d) {
        <path class="now" [attr.d]="d" />
        <text x="556" [attr.y]="y()(at(now()!)) + 12" text-anchor="end">now</text>
      }
      <path [class.trial]="before()" [attr.d]="path(rule())" />
      @if (before()) {
        <text class="plum" x="556" [attr.y]="y()(at(rule())) - 5" text-anchor="end">in the trial</text>
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      max-width: 620px;
      margin: 4px 0 10px;
    }
    text {
      font: 11px var(--sans);
      fill: var(--pencil);
    }
    /* Drawn at little more than half its size there. */
    @media (max-width: 600px) {
      text {
        font-size: 16px;
      }
    }
    .plum {
      fill: var(--plum);
      font-weight: 700;
    }
    .rule {
      stroke: var(--rule);
    }
    path {
      fill: none;
      stroke: var(--ink);
      stroke-width: 2;
    }
    path.trial {
      stroke: var(--plum);
    }
    .spent {
      stroke: var(--pencil);
      stroke-width: 1.5;
    }
    .closed {
      stroke: var(--pencil);
      stroke-dasharray: 1 4;
      stroke-linecap: round;
      stroke-width: 1.5;
    }
    path.now {
      stroke: var(--pencil);
      stroke-width: 1.5;
      stroke-dasharray: 4 3;
    }
  `,
})
export class LatePicture {
  readonly rule = input.required<LateRule>();
  /** The rule in force, where another is tried. */
  readonly now = input<LateRule>();
  private readonly end = computed(() => Math.max(reach(this.rule()), this.now() ? reach(this.now()!) : 0));
  protected readonly x = computed(() => scaleLinear([0, this.end()], [36, 560]));
  protected readonly y = computed(() => {
    const most = Math.max(
      ...[10, this.closed() ?? 0],
      ...[this.rule(), this.now()].map((r) => (r ? takenAt(r, this.end()) : 0)),
    );
    return scaleLinear([0, most], [126, 16]);
  });
  protected readonly before = computed(() => {
    const now = this.now();
    return now && JSON.stringify(now) !== JSON.stringify(this.rule()) ? this.path(now) : null;
  });
  /** With as much of the bank as one assessment takes. */
  protected readonly spent = computed(() => {
    const rule = this.rule();
    const units = mostOfBank(rule);
    if (units === 0) return null;
    const text = `with ${counted(units, rule.unit === 'hour' ? 'late hour' : 'late day')} spent`;
    return { text, path: this.path(rule, units) };
  });
  /** What is taken at least once the assessment has closed, whenever that is; null: no more than before. */
  protected readonly closed = computed(() => this.rule().afterCloses || null);
  protected readonly ticks = computed(() => {
    const days = this.end() > 30;
    const step = days ? 24 : 1;
    const all = Math.floor(this.end() / step);
    const every = Math.max(1, Math.ceil(all / 6));
    return Array.from({ length: Math.floor(all / every) }, (_, i) => (i + 1) * every).map((n) => ({
      at: n * step,
      text: counted(n, days ? 'day' : 'hour'),
    }));
  });
  protected readonly words = computed(() => {
    const rule = this.rule();
    const at = this.ticks().map((t) => `${t.text}: ${Math.round(takenAt(rule, t.at) * 10) / 10} %`);
    const more = [
      this.closed() === null ? [] : `after it has closed at least ${this.closed()} %`,
      this.spent()?.text ?? [],
    ];
    return `What lateness takes. ${[...at, ...more.flat()].join(', ')}`;
  });

  protected at(rule: LateRule): number {
    return takenAt(rule, this.end());
  }

  protected path(rule: LateRule, bank = 0): string {
    const points = Array.from({ length: POINTS + 1 }, (_, i) => (i / POINTS) * this.end());
    const steps = points.flatMap((h, i): [number, number][] => {
      const taken = takenAt(rule, h, bank);
      const last = i === 0 ? taken : takenAt(rule, points[i - 1]!, bank);
      return last === taken
        ? [[h, taken]]
        : [
            [h, last],
            [h, taken],
          ];
    });
    return (
      line<[number, number]>(
        (p) => this.x()(p[0]),
        (p) => this.y()(p[1]),
      )(steps) ?? ''
    );
  }
}
