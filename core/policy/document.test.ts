import { describe, expect, it } from 'vitest';
import { checkSchoolRules } from './check';
import { byCalendar, closedDates, OPEN_SCHOOL } from './document';

describe('the rules of a school', () => {
  it('have closures by their days, each once', () => {
    const calendar = {
      days: [7],
      closures: [
        { title: 'Winter', from: '2026-12-30', to: '2027-01-02' },
        { title: 'Founders’ day', from: '2027-01-02', to: '2027-01-02' },
      ],
    };
    expect(closedDates(calendar)).toEqual(['2026-12-30', '2026-12-31', '2027-01-01', '2027-01-02']);
    expect(byCalendar({ unit: 'day', deduct: 5, skipDates: ['2020-01-01'] }, calendar)).toEqual({
      unit: 'day',
      deduct: 5,
      skipDays: [7],
      skipDates: closedDates(calendar),
    });
  });

  it('are refused with a sentence for each fault', () => {
    const wrong: [object, string][] = [
      [{ format: 'x' }, '/format'],
      [{ more: 1 }, '/more'],
      [{ calendar: { days: [8], closures: [] } }, '/calendar/days/0'],
      [{ calendar: { days: [6, 6], closures: [] } }, '/calendar/days/1'],
      [
        { calendar: { days: [], closures: [{ title: 'W', from: '2027-02-30', to: '2027-03-01' }] } },
        '/calendar/closures/0/from',
      ],
      [
        { calendar: { days: [], closures: [{ title: 'W', from: '2027-02-03', to: '2027-02-01' }] } },
        '/calendar/closures/0/to',
      ],
      [
        { calendar: { days: [], closures: [{ title: 'W', from: '2027-02-03', to: '2029-02-01' }] } },
        '/calendar/closures/0/to',
      ],
      [{ stands: { ...OPEN_SCHOOL.stands, late: 'maybe' } }, '/stands/late'],
      [{ late: 'nowhere' }, '/late'],
      [{ rules: { ...OPEN_SCHOOL.rules, late: { a: { unit: 'day', deduct: 1, skipDays: [6] } } } }, '/rules/late/a'],
      [{ rounding: { decimals: 9, mode: 'half-up' } }, '/rounding/decimals'],
    ];
    for (const [keys, at] of wrong) {
      const checked = checkSchoolRules({ ...OPEN_SCHOOL, ...keys });
      expect(checked.ok ? null : checked.problems.map((p) => p.at), at).toEqual([at]);
    }
    for (const junk of [null, 3, [], 'x']) expect(checkSchoolRules(junk).ok).toBe(false);
    expect(checkSchoolRules({}).ok).toBe(false);
    expect(checkSchoolRules(OPEN_SCHOOL)).toEqual({ ok: true, school: OPEN_SCHOOL });
  });
});
