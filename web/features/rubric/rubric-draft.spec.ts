import { describe, expect, it } from 'vitest';
import type { Rubric } from '@core/rubric/document';
import { differs, EMPTY, faultsOf, maximumText, moved, newCriterion, toDraft, toRubric } from './rubric-draft';

let made = 0;
const newId = (): string => `n${++made}`;
const PIT: Rubric = {
  by: 'weights',
  criteria: [
    { id: 'a', title: 'Drawing', words: 'Of the profile', stands: 'counts', weight: 2.5, step: 0.5, levels: [{ id: 'l', points: 4, words: 'named' }] }, // prettier-ignore
    { id: 'b', title: 'Tidy', stands: 'shown', levels: [{ id: 'l', points: 1, words: '' }] },
  ],
};

describe('a rubric as it is typed', () => {
  it('is the rubric again', () => {
    expect(toRubric(toDraft(PIT))).toEqual(PIT);
    const scaled: Rubric = { by: 'points', scaled: true, criteria: [PIT.criteria[1]!] };
    expect(toRubric(toDraft(scaled))).toEqual(scaled);
  });
  it('says what is no number, at its criterion', () => {
    const draft = toDraft(PIT);
    draft.criteria[0]!.levels[0]!.points = 'four';
    expect([...faultsOf(toRubric(draft)).keys()]).toEqual(['0']);
    expect(maximumText(toRubric(draft))).toBe('');
    draft.criteria[0]!.levels[0]!.points = '4,5';
    expect(faultsOf(toRubric(draft)).size).toBe(0);
  });
  it('begins with levels that are sound but for the title', () => {
    const draft = { ...EMPTY, criteria: [newCriterion(newId)] };
    expect([...faultsOf(toRubric(draft)).values()]).toEqual(['A criterion has a title.']);
    expect([differs(toRubric(draft), 4), differs(toRubric(draft), 20), differs(toRubric(EMPTY), 20)]).toEqual([false, true, false]); // prettier-ignore
  });
  it('moves criteria, and none past the ends', () => {
    const all = toDraft(PIT).criteria;
    expect(moved(all, 'b', -1).map((c) => c.id)).toEqual(['b', 'a']);
    expect(moved(all, 'a', -1)).toBe(all);
    expect(moved(all, 'nobody', 1)).toBe(all);
  });
});
