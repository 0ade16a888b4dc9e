import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { scaleLinear } from 'd3';
import type { Trial } from '@core/proposal/compare';
import { Counted } from '../text/counted';
import { MoversTable, type MoverRow } from './movers-table';

const TOP = 16;
const BOTTOM = 306;
/** A trial: how many move, everybody as a line from before to after, and who moves. */
@Component({
  selector: 'lt-trial-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, MoversTable],
  template: `
    <p class="counts">
      <span
        ><b>{{ trial().down }}</b> go down</span
      >
      <span
        ><b>{{ trial().up }}</b> go up</span
      >
      <span
        ><b>{{ trial().stay }}</b> stay</span
      >
      <span class="plum"
        ><b>{{ trial().crossing }}</b> change letter</span
      >
    </p>
    <svg viewBox="0 0 380 322" role="img" aria-label="Every student's percentage now and in the trial">
      @for (b of edges(); track b.label) {
        <line class="edge" x1="34" x2="330" [attr.y1]="y()(b.from)" [attr.y2]="y()(b.from)" />
        <text class="letter" x="4" [attr.y]="y()(b.from) - 3">{{ b.label }}</text>
        <text class="from" x="4" [attr.y]="y()(b.from) + 9">{{ b.from }}</text>
      }
      @for (l of lines(); track l.look) {
        <path [class]="l.look" [attr.d]="l.ways" />
        <path [class]="l.look + ' ends'" [attr.d]="l.ends" />
      }
      <text class="axis" x="70" y="319" text-anchor="middle">now</text>
      <text class="axis" x="300" y="319" text-anchor="middle">in the trial</text>
    </svg>
    @if (together(); as w) {
      <p class="quiet">All of them by {{ w }}.</p>
    }
    @if (trial().movers.length > 0) {
      <div class="movers">
        <lt-movers-table [rows]="rows()" />
      </div>
    }
    @if (shown().length > 0) {
      <p class="quiet">
        {{ shown().length | counted: 'student has' : 'students have' }} another figure on the other scale:
      </p>
      <div class="movers">
        <lt-movers-table [rows]="shown()" [lettered]="false" />
      </div>
    }
  `,
  styles: `
    .counts {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 18px;
      padding: 10px 0 4px;
    }
    .counts b {
      font: 700 16px var(--mono);
    }
    svg {
      width: 100%;
      max-height: 290px;
    }
    .edge {
      stroke: var(--rule);
      stroke-dasharray: 2 3;
    }
    .letter {
      font: 600 13px var(--serif);
      fill: var(--ink);
    }
    .from,
    .axis {
      font: 10px var(--sans);
      fill: var(--pencil);
    }
    path {
      fill: none;
      stroke: var(--range);
      stroke-width: 1;
    }
    path.still {
      opacity: 0.45;
    }
    path.ends {
      stroke-width: 3.6;
      stroke-linecap: round;
      opacity: 1;
    }
    path.crosses {
      stroke: var(--plum);
      stroke-width: 2;
    }
    path.crosses.ends {
      stroke-width: 6;
    }
    .movers {
      max-height: var(--movers-most, 250px);
      overflow: auto;
    }
  `,
})
export class TrialPanel {
  readonly trial = input.required<Trial>();
  readonly names = input.required<Record<string, string>>();
  readonly bands = input<readonly { label: string; from: number }[]>([]);
  /** What moves each of them, in words, where it is known. */
  readonly why = input<Record<string, string>>({});
  /** The one reason where all have the same. */
  protected readonly together = computed(() => {
    const all = new Set(this.trial().movers.map((m) => this.why()[m.student] ?? ''));
    return all.size === 1 ? [...all][0]! : '';
  });
  /** Those who cross a band come first. */
  protected readonly rows = computed((): MoverRow[] =>
    [...this.trial().movers]
      .sort((a, b) => Number(b.crosses) - Number(a.crosses))
      .map(({ student, before, after }) => ({
        id: student,
        name: this.names()[student] ?? '',
        before,
        after,
        why: this.together() ? '' : (this.why()[student] ?? ''),
      })),
  );
  protected readonly shown = computed((): MoverRow[] =>
    this.trial().shown.map(({ student, before, after }) => ({
      id: student,
      name: this.names()[student] ?? '',
      before: { percent: before, letter: null },
      after: { percent: after, letter: null },
      why: '',
    })),
  );
  protected readonly y = computed(() => {
    const all = this.trial()
      .line.flatMap((l) => [l.before, l.after])
      .filter((n) => !Number.isNaN(n));
    const low = Math.min(40, ...all);
    const high = Math.max(100, ...all);
    return scaleLinear([high, low], [TOP, BOTTOM]);
  });
  protected readonly edges = computed(() => this.bands().filter((b) => b.from > this.y().domain()[1]!));
  /** Few paths for many people: each of them has one way from before to after, and a dot at either end. */
  protected readonly lines = computed(() => {
    const y = this.y();
    const looks = new Map<string, { ways: string; ends: string }>();
    for (const l of this.trial().line) {
      if (Number.isNaN(l.before) || Number.isNaN(l.after)) continue;
      const look = l.crosses ? 'crosses' : l.before === l.after ? 'still' : 'moves';
      const [from, to] = [y(l.before).toFixed(1), y(l.after).toFixed(1)];
      const of = looks.get(look) ?? looks.set(look, { ways: '', ends: '' }).get(look)!;
      of.ways += `M70 ${from}L300 ${to}`;
      of.ends += `M70 ${from}h0M300 ${to}h0`;
    }
    return ['still', 'moves', 'crosses'].flatMap((look) => {
      const of = looks.get(look);
      return of ? [{ look, ...of }] : [];
    });
  });
}
