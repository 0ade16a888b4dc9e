import { inject, linkedSignal, resource, type Signal } from '@angular/core';
import { givenScore, isOverridden } from '@core/rubric/score-change';
import { BookStore } from '../../../data/book';
import { LevelDrafts } from '../../../data/work/level-drafts';
import { inDecimals } from '../../../ui/text/locale';
import { LevelEntry } from './level-entry';

/** Milliseconds that something has to stand in the place of the sum until it is said. */
const SAID_AFTER = 300;

/** What the levels of a piece of work make, what stands in its place ('' nothing), and whether it is not given. */
export interface RulerSum {
  sum: string;
  stands: string;
  notGiven: boolean;
}

const NO_SUM: RulerSum = { sum: '', stands: '', notGiven: false };

/** The sum for one piece of work, as it is now; made where things are injected. */
export function rulerSum(of: {
  student: Signal<string>;
  assessment: Signal<string>;
  work: Signal<string>;
}): Signal<RulerSum> {
  const store = inject(BookStore);
  const drafts = inject(LevelDrafts);
  const entry = inject(LevelEntry);
  const looked = resource({
    params: () => ({
      ...{ student: of.student(), item: of.assessment(), at: store.revision() },
      marks: drafts.marks(of.student(), of.work()),
    }),
    loader: async ({ params, abortSignal }): Promise<RulerSum> => {
      let content = await entry.content(params);
      const rubric = drafts.rubric();
      const points = store.assessments().get(params.item)?.points ?? 0;
      const sum = rubric && givenScore(rubric, params.marks, points);
      if (sum === null) return NO_SUM;
      // A colleague's level comes a moment after the score that follows of it: what passes is not said.
      if (isOverridden(content, sum)) {
        await new Promise((done) => setTimeout(done, SAID_AFTER));
        if (!abortSignal.aborted) content = await entry.content(params);
      }
      const last = content.attempts?.at(-1);
      const isElse = isOverridden(content, sum);
      const stands = isElse ? (content.state ?? last?.mark ?? String(content.set ?? last?.score ?? '')) : '';
      return {
        sum: inDecimals(String(sum)),
        stands: inDecimals(stands),
        notGiven: !isElse && last?.score === undefined,
      };
    },
  });
  // While it is looked at again what was said stays.
  return linkedSignal<RulerSum | undefined, RulerSum>({
    source: () => (looked.hasValue() ? looked.value() : undefined),
    computation: (now, before) => now ?? before?.value ?? NO_SUM,
  });
}
