import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { TICKS, type Tick, type TickCounts } from '@core/statistics/ticks';

const WORDS: Record<Tick, string> = {
  released: 'released',
  draft: 'draft',
  excused: 'excused',
  toMark: 'to mark',
  missing: 'missing',
  nothing: 'nothing yet',
};

/** "2 released, 7 draft, 2 missing" */
export const ticksInWords = (counts: TickCounts): string =>
  TICKS.filter((t) => counts[t] > 0)
    .map((t) => `${counts[t]} ${WORDS[t]}`)
    .join(' · ');

/** A class as thin ticks in a fixed order of states; with more than `most` students a tick stands for several. */
@Component({
  selector: 'lt-tick-rail',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'img', '[attr.aria-label]': 'words()', '[title]': 'words()' },
  template: `@for (t of ticks(); track $index) {
    <i [class]="t"></i>
  }`,
  styles: `
    :host {
      display: flex;
      gap: 1px;
      height: 8px;
      align-items: stretch;
    }
    i {
      flex: 0 1 4px;
      min-width: 1px;
      background: var(--tick-nothing);
    }
    .released {
      background: var(--ink);
    }
    .draft {
      background: var(--tick-draft);
    }
    .excused {
      background: repeating-linear-gradient(135deg, var(--pencil) 0 1px, transparent 1px 3px);
    }
    .toMark {
      background: var(--blue);
    }
    .missing {
      background: var(--umber);
    }
  `,
})
export class TickRail {
  readonly counts = input.required<TickCounts>();
  readonly most = input(60);
  protected readonly words = computed(() => ticksInWords(this.counts()));
  protected readonly ticks = computed(() => spread(this.counts(), this.most()));
}

/** The ticks of a rail: one a student, or each state's part of `most`, at least one for a state that occurs. */
export function spread(counts: TickCounts, most: number): Tick[] {
  const all = TICKS.reduce((n, t) => n + counts[t], 0);
  const scale = all > most ? most / all : 1;
  return TICKS.flatMap((t) => Array<Tick>(counts[t] === 0 ? 0 : Math.max(1, Math.round(counts[t] * scale))).fill(t));
}
