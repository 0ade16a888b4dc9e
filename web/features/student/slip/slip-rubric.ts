import { ChangeDetectionStrategy, Component, computed, input, signal } from '@angular/core';
import { givenOf } from '@core/rubric/given';
import { rubricTotal, totalWords } from '@core/rubric/total';
import type { Criterion, CriterionMark } from '@core/rubric/document';
import type { ReleasedRubric } from '@contract/slips';
import { placeOnRule } from '../../../ui/chart/rule-place';
import { inDecimals } from '../../../ui/text/locale';

/** One criterion as it was given. */
interface GivenCriterion {
  criterion: Criterion;
  /** "5"; a word where there are no points. */
  given: string;
  /** Points at most; '' where they say nothing. */
  of: string;
  stands: string;
  /** From 0 to 100; null: nothing is drawn. */
  filled: number | null;
  ticks: number[];
  /** Counted from 1; 0: below the first. */
  level: number;
  words: string;
}

/** Criterion by criterion what work was given by its rubric, with all levels to open. */
@Component({
  selector: 'lt-slip-rubric',
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './slip-rubric.html',
  styleUrl: './slip-rubric.css',
})
export class SlipRubric {
  readonly released = input.required<ReleasedRubric>();
  /** The piece of work. */
  readonly work = input.required<string>();
  /** What the assessment is worth; null: nothing. */
  readonly points = input.required<number | null>();
  /** The score of this attempt as an exact fraction; null: it is not known, or others count with it. */
  readonly marked = input<string | null>(null);
  protected readonly opened = signal<ReadonlySet<string>>(new Set());
  private readonly marks = computed(() => {
    const marks = this.released().works.find((w) => w.work === this.work())?.marks ?? [];
    return Object.fromEntries(marks.map((m) => [m.criterion, m.mark]));
  });
  protected readonly rows = computed(() => {
    const marks = this.marks();
    return this.released().rubric.criteria.map((c) => given(c, Object.hasOwn(marks, c.id) ? marks[c.id] : undefined));
  });
  protected readonly together = computed(() => {
    const total = rubricTotal(this.released().rubric, this.marks(), this.points());
    return total ? totalWords(total, this.marked(), inDecimals) : '';
  });

  protected toggle(id: string): void {
    this.opened.update((was) => {
      const next = new Set(was);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }

  protected decimals(points: number): string {
    return inDecimals(String(points));
  }
}

function given(criterion: Criterion, mark: CriterionMark | undefined): GivenCriterion {
  const g = givenOf(criterion, mark);
  const { points, level } = g;
  return {
    criterion,
    given: points === null ? g.word : inDecimals(String(points)),
    of: points === null ? '' : inDecimals(String(g.most)),
    stands: g.stands,
    filled: points === null ? null : placeOnRule(criterion, points),
    ticks: criterion.levels.map((l) => placeOnRule(criterion, l.points)),
    level,
    words: level > 0 ? `${g.past ? 'past: ' : ''}${criterion.levels[level - 1]!.words}` : '',
  };
}
