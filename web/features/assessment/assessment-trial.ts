import { areNamesHidden } from '@core/work/hidden-names';
import { computed, inject, Injectable, signal } from '@angular/core';
import { BUILT_IN_MARKS } from '@core/book/built-in-marks';
import type { Trial } from '@core/proposal/compare';
import { counted } from '@core/words/count';
import type { AssessmentWhole } from '@contract/assessments';
import { BookStore } from '../../data/book';
import { changesOf, faultOf, placedWith, withMore, type Draft } from './draft';

/** What becomes of scores where the points change. */
export type ScoreWay = 'keep-points' | 'keep-percentages';

/** What a draft of an assessment would do to the class, worked out before it is kept. */
@Injectable()
export class AssessmentTrial {
  private readonly store = inject(BookStore);
  private readonly trials = signal<{
    'keep-points': Trial;
    'keep-percentages': Trial | null;
    problems: string[];
  } | null>(null);
  /** Answers come in the order they were asked; only the last counts. */
  private asked = 0;

  of(way: ScoreWay | null): Trial | null {
    const t = this.trials();
    if (!t) return null;
    return way === 'keep-percentages' && t['keep-percentages'] ? t['keep-percentages'] : t['keep-points'];
  }

  readonly ways = computed(() => {
    const t = this.trials();
    const message = (x: Trial | null | undefined): string =>
      !x
        ? '…'
        : x.movers.length === 0
          ? 'no standing changes'
          : `${counted(x.movers.length, 'standing changes', 'standings change')}, ${x.crossing} across a letter`;
    return [
      { way: 'keep-points' as const, label: 'keep the points', more: message(t?.['keep-points']) },
      { way: 'keep-percentages' as const, label: 'keep the percentages', more: message(t?.['keep-percentages']) },
    ];
  });
  readonly problem = computed(() => this.trials()?.problems[0] ?? '');

  async tryOut(was: AssessmentWhole, draft: Draft): Promise<void> {
    const asked = ++this.asked;
    const keys = Object.keys(changesOf(was, draft));
    if (
      was.archived ||
      // What it holds is not told, so neither is whom it would move.
      areNamesHidden(was.work) ||
      faultOf(draft) !== '' ||
      !keys.some((k) => k !== 'title' && k !== 'shown' && k !== 'takesWork' && k !== 'work')
    )
      return this.trials.set(null);
    const items = placedWith(await this.store.worker().placed(), was.id, withBuiltIn(draft));
    const points = await this.store.worker().whatIfItems({ items, rescaled: [] });
    const rescaled = [{ item: was.id, from: was.points, to: draft.points }];
    const asks = draft.points !== was.points && was.scored > 0 && was.points > 0;
    const percent = asks ? (await this.store.worker().whatIfItems({ items, rescaled })).trial : null;
    if (asked !== this.asked) return;
    this.trials.set({ 'keep-points': points.trial, 'keep-percentages': percent, problems: points.problems });
  }
}

/** A set of marks that the book has not yet is tried as points are: its labels come with keeping. */
function withBuiltIn(draft: Draft): Draft {
  return draft.more.marks && BUILT_IN_MARKS[draft.more.marks]
    ? { ...draft, more: withMore(draft.more, 'marks', undefined) }
    : draft;
}
