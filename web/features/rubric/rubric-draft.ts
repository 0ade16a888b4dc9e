import { checkRubric, topOf } from '@core/rubric/check-rubric';
import type { Criterion, Rubric } from '@core/rubric/document';
import { differsFrom, rubricMaximum } from '@core/rubric/rubric-score';
import { toText } from '@core/exact/fraction';
import { amountIn } from '../../ui/text/amount';
import { inDecimals } from '../../ui/text/locale';

/** A criterion as it is typed: numbers are texts, which may not be numbers yet. */
export interface CriterionDraft {
  id: string;
  title: string;
  words: string;
  stands: Criterion['stands'];
  weight: string;
  step: string;
  levels: { id: string; points: string; words: string }[];
}

/** A rubric as it is typed. */
export interface RubricDraft {
  by: Rubric['by'];
  scaled: boolean;
  criteria: CriterionDraft[];
}

const typed = (n: number | undefined): string => (n === undefined ? '' : inDecimals(String(n)));
export const EMPTY: RubricDraft = { by: 'points', scaled: false, criteria: [] };

export const toDraft = (rubric: Rubric): RubricDraft => ({
  by: rubric.by,
  scaled: rubric.scaled === true,
  criteria: rubric.criteria.map((c) => ({
    ...{ id: c.id, title: c.title, words: c.words ?? '', stands: c.stands },
    ...{ weight: typed(c.weight), step: typed(c.step) },
    levels: c.levels.map((l) => ({ id: l.id, points: typed(l.points), words: l.words })),
  })),
});

/** The rubric that is typed; what is no number yet is one that the check refuses. */
export function toRubric(draft: RubricDraft): Rubric {
  const number = (text: string): number => amountIn(text) ?? NaN;
  return {
    by: draft.by,
    ...(draft.by === 'points' && draft.scaled ? { scaled: true } : {}),
    criteria: draft.criteria.map((c) => ({
      ...{ id: c.id, title: c.title.trim(), stands: c.stands },
      ...(c.words.trim() === '' ? {} : { words: c.words.trim() }),
      levels: c.levels.map((l) => ({ id: l.id, points: number(l.points), words: l.words.trim() })),
      ...(draft.by === 'weights' && c.stands !== 'shown' ? { weight: number(c.weight) } : {}),
      ...(c.step.trim() === '' ? {} : { step: number(c.step) }),
    })),
  };
}

/** What is wrong with it, by the place of the criterion; '' stands for the whole. */
export function faultsOf(rubric: Rubric): Map<string, string> {
  const faults = new Map<string, string>();
  for (const { pointer, message } of checkRubric(rubric)) {
    const at = /^\/criteria\/(\d+)/.exec(pointer)?.[1] ?? '';
    if (!faults.has(at)) faults.set(at, message);
  }
  return faults;
}

/** What the criteria make together, as it is read; '' while they are not numbers. */
export function maximumText(rubric: Rubric): string {
  if (rubric.criteria.some((c) => !Number.isFinite(topOf(c)))) return '';
  return inDecimals(toText(rubricMaximum(rubric)));
}

export const differs = (rubric: Rubric, points: number): boolean =>
  rubric.criteria.length > 0 && maximumText(rubric) !== '' && differsFrom(rubric, points);

/** A criterion to begin with: four levels, as yet without words. */
export const newCriterion = (newId: () => string): CriterionDraft => ({
  ...{ id: newId(), title: '', words: '', stands: 'counts', weight: '1', step: '' },
  levels: [1, 2, 3, 4].map((n) => ({ id: newId(), points: String(n), words: '' })),
});

/** The same criteria with one of them elsewhere. */
export function moved(criteria: CriterionDraft[], id: string, by: 1 | -1): CriterionDraft[] {
  const at = criteria.findIndex((c) => c.id === id);
  const to = at + by;
  if (at < 0 || to < 0 || to >= criteria.length) return criteria;
  const next = [...criteria];
  [next[at], next[to]] = [next[to]!, next[at]!];
  return next;
}
