import type { RulesPart } from '@core/book/change';
import { testSheet } from '../testing/book';
import { KeptBook } from '../workers/kept-book';
import * as w from './rule-words';

const rules = (): RulesPart => new KeptBook(testSheet()).rules;

describe('changes of rules', () => {
  it('leave the given rules as they are', () => {
    const before = rules();
    const copy = structuredClone(before);
    w.changeLate(before, { deduct: 20 });
    w.changeBlank(before, { beforeDue: 'zero' });
    w.changeCategory(before, 'work', { weight: 5, drop: { lowest: 1 } });
    w.changeScale(before, { lookUp: 'exact' });
    w.switchLate(before, false);
    expect(before).toEqual(copy);
  });

  it('reach the rule they are about', () => {
    expect(w.bookLate(w.changeLate(rules(), { deduct: 20 }))?.rule.deduct).toBe(20);
    expect(w.bookLate(w.switchLate(rules(), false))).toBe(null);
    expect(
      w.bookLate(w.switchLate({ ...rules(), late: null, rules: { blank: rules().rules!.blank! } }, true))?.rule.max,
    ).toBe(50);
    expect(w.categoriesOf(w.changeCategory(rules(), 'work', { weight: 5 }))[0]!.weight).toBe(5);
  });

  it('say what the weights come to', () => {
    const [c] = w.categoriesOf(rules());
    expect(w.weightsSay([c!]).says).toBe('Together 100 %.');
    expect(
      w.weightsSay([
        { ...c!, weight: 60 },
        { ...c!, weight: 50 },
      ]).says,
    ).toContain('Together 110, not 100');
    expect(w.weightsSay([{ ...c!, weight: 0 }]).says).toContain('nothing counts');
    expect(w.partOf({ ...c!, weight: 25 }, 110)).toBe('22.7');
  });
});
