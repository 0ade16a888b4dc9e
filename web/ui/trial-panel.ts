import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { scaleLinear } from 'd3';
import type { Trial } from '@core/trial/compare';

const TOP = 16;
const BOTTOM = 306;

/** A trial: how many move, everybody as a line from before to after, and who moves. */
@Component({
  selector: 'lt-trial-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
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
      @for (l of lines(); track l.student) {
        <g [class.crosses]="l.crosses" [class.still]="l.before === l.after">
          <line x1="70" x2="300" [attr.y1]="l.before" [attr.y2]="l.after" />
          <circle cx="70" [attr.cy]="l.before" [attr.r]="l.crosses ? 3 : 1.8" />
          <circle cx="300" [attr.cy]="l.after" [attr.r]="l.crosses ? 3 : 1.8" />
        </g>
      }
      <text class="axis" x="70" y="319" text-anchor="middle">now</text>
      <text class="axis" x="300" y="319" text-anchor="middle">in the trial</text>
    </svg>
    @if (together(); as w) {
      <p class="quiet">All of them by {{ w }}.</p>
    }
    @if (trial().movers.length > 0) {
      <div class="movers">
        <table class="plain">
          <thead>
            <tr>
              <th scope="col">Student</th>
              <th scope="col" class="right">now → in the trial</th>
              <th scope="col" class="right">letter</th>
            </tr>
          </thead>
          <tbody>
            @for (m of movers(); track m.student) {
              <tr>
                <td>
                  {{ names()[m.student] ?? '' }}
                  @if (!together() && why()[m.student]; as w) {
                    <small class="quiet">{{ w }}</small>
                  }
                </td>
                <td class="right mono">{{ m.before.percent ?? 'none' }} → {{ m.after.percent ?? 'none' }}</td>
                <td class="right" [class.plum]="m.crosses">
                  {{ m.crosses ? (m.before.letter ?? '–') + ' → ' + (m.after.letter ?? '–') : (m.after.letter ?? '') }}
                </td>
              </tr>
            }
          </tbody>
        </table>
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
    g line {
      stroke: var(--range);
      stroke-width: 1;
    }
    g circle {
      fill: var(--range);
    }
    g.still line {
      opacity: 0.45;
    }
    g.crosses line {
      stroke: var(--plum);
      stroke-width: 2;
    }
    g.crosses circle {
      fill: var(--plum);
    }
    small {
      display: block;
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
  protected readonly movers = computed(() =>
    [...this.trial().movers].sort((a, b) => Number(b.crosses) - Number(a.crosses)),
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
  protected readonly lines = computed(() =>
    this.trial()
      .line.filter((l) => !Number.isNaN(l.before) && !Number.isNaN(l.after))
      .map((l) => ({ student: l.student, crosses: l.crosses, before: this.y()(l.before), after: this.y()(l.after) }))
      .sort((a, b) => Number(a.crosses) - Number(b.crosses)),
  );
}
