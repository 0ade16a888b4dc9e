import type { Letters } from '@contract/mail';
import type { ArrivalKind, ArrivalRow } from '../../data/work/arrival-rows';
import { recipientsOf, REMINDER } from './letter-draft';
import { unknownPlaces } from '@core/work/letter-places';

const NOW = '2026-11-24T09:00:00Z';
const row = (enrolment: string, kind: ArrivalKind, open = true): ArrivalRow => ({
  ...{ enrolment, name: enrolment.toUpperCase(), section: '', due: null, ownDue: false, open, openAgain: null },
  ...{
    asks: false,
    secondLook: false,
    late: '',
    openedBy: [],
    submissions: [],
    parts: '',
    state: kind,
    look: '',
    kind,
  },
});
const letter = (at: string, ...enrolments: string[]): Letters[number] => ({
  ...{ id: at, assessment: 'moss', at, by: 'S. teacher', subject: 's', body: 'b' },
  copies: enrolments.map((enrolment) => ({ enrolment, state: 'sent', fault: '' })),
});

describe('whom a letter goes to', () => {
  it('is first of all who has nothing in and still can; those who have begun stand apart', () => {
    const rows = [row('a', 'nothing yet'), row('b', 'begun'), row('c', 'to mark'), row('d', 'missing', false), row('e', 'excused')]; // prettier-ignore
    const { groups, nothing } = recipientsOf(rows, [], NOW);
    expect(nothing).toEqual(['a']);
    expect(groups.map((g) => [g.label, g.items.map((i) => i.id)])).toEqual([
      ['Nothing handed in', ['a']],
      ['Begun, not handed in', ['b']],
      ['The others', ['c', 'd', 'e']],
    ]);
  });

  it('leaves out who was written to within the day, and says when', () => {
    const rows = [row('a', 'nothing yet'), row('b', 'nothing yet'), row('c', 'nothing yet')];
    const letters = [letter('2026-11-24T06:00:00Z', 'a'), letter('2026-11-23T08:59:00Z', 'b'), letter('2026-11-20T09:00:00Z', 'a')]; // prettier-ignore
    const { groups, nothing, lately } = recipientsOf(rows, letters, NOW);
    expect([nothing, lately]).toEqual([['b', 'c'], ['a']]);
    expect(groups[0]!.items[0]!.label).toBe('A · nothing yet, written to 3 hours ago');
  });

  it('has words to begin with that can be filled in', () => {
    expect(unknownPlaces(`${REMINDER.subject} ${REMINDER.body}`)).toEqual([]);
  });
});
