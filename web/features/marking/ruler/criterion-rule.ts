import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  output,
  viewChild,
} from '@angular/core';
import { partPoints, levelReached } from '@core/rubric/levels';
import type { Criterion, CriterionMark } from '@core/rubric/document';
import { placeOnRule } from '../../../ui/chart/rule-place';
import { inDecimals } from '../../../ui/text/locale';

/** A tick of the rule: where, from 0 to 100, and which level it is; 0: part points. */
interface Tick {
  at: number;
  level: number;
  points: number;
}

/** One criterion as a graduated rule: long ticks are its levels, short ones the part points between. */
@Component({
  selector: 'lt-criterion-rule',
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './criterion-rule.html',
  styleUrl: './criterion-rule.css',
  host: { '[class.on]': 'on()', '(click)': 'took.emit()' },
})
export class CriterionRule {
  readonly criterion = input.required<Criterion>();
  /** Undefined: not assessed yet. */
  readonly mark = input<CriterionMark | undefined>();
  /** The keys are for this one. */
  readonly on = input(false);
  readonly readOnly = input(false);
  /** Who gave it, where that was somebody else. */
  readonly by = input('');
  readonly took = output();
  readonly gave = output<number>();
  private readonly rule = viewChild.required<ElementRef<HTMLElement>>('rule');
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  protected readonly top = computed(() => this.criterion().levels.at(-1)?.points ?? 0);
  protected readonly points = computed(() => {
    const mark = this.mark();
    return mark && 'points' in mark ? mark.points : null;
  });
  protected readonly leftOut = computed(() => {
    const mark = this.mark();
    return mark !== undefined && 'leftOut' in mark;
  });
  protected readonly reached = computed(() => {
    const points = this.points();
    return points === null ? null : levelReached(this.criterion(), points);
  });
  protected readonly filled = computed(() => {
    const points = this.points();
    return points === null ? 0 : placeOnRule(this.criterion(), points);
  });
  protected readonly ticks = computed((): Tick[] => {
    const c = this.criterion();
    const byPoints = new Map(c.levels.map((l, i) => [l.points, i + 1]));
    const all = partPoints(c);
    // Finer than can be seen apart, the levels alone are drawn.
    const drawn = all.length > 40 ? c.levels.map((l) => l.points) : all;
    return drawn.map((points) => ({ at: placeOnRule(c, points), level: byPoints.get(points) ?? 0, points }));
  });
  protected readonly given = computed(() => {
    const points = this.points();
    return this.leftOut() ? 'left out' : points === null ? '–' : inDecimals(String(points));
  });
  protected readonly worth = computed(() => inDecimals(String(this.top())));
  /** What a reader of the screen hears. */
  protected readonly said = computed(() => {
    const reached = this.reached();
    if (this.leftOut()) return 'left out';
    if (reached === null) return 'not assessed';
    const words = this.criterion().levels[reached.level - 1]?.words ?? '';
    const level = reached.level === 0 ? 'below level 1' : `${reached.past ? 'past ' : ''}level ${reached.level}`;
    return `${level}, ${this.given()} of ${this.worth()}${words ? `, ${words}` : ''}`;
  });

  focus(): void {
    this.rule().nativeElement.focus({ preventScroll: true });
  }

  /** Where the rules are wider than the page: this one comes into sight. */
  bringIntoSight(): void {
    const row = this.host.parentElement!;
    if (row.scrollWidth > row.clientWidth) this.host.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }

  protected decimals(points: number): string {
    return inDecimals(String(points));
  }

  /** The part points nearest to where the rule was pressed. */
  protected pressed(event: MouseEvent): void {
    if (this.readOnly()) return;
    const box = this.rule().nativeElement.getBoundingClientRect();
    const at = (100 * (event.clientX - box.left)) / box.width;
    const nearest = [...this.ticks()].sort((a, b) => Math.abs(a.at - at) - Math.abs(b.at - at))[0];
    if (nearest) this.gave.emit(nearest.points);
  }
}
