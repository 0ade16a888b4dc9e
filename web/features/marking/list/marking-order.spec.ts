import type { ArrivalRow } from '../../../data/work/arrival-rows';
import { firstWaiting, nextWaiting, ordered } from './marking-order';

const row = (enrolment: string, kind: ArrivalRow['kind'], handedInAt: string | null = null): ArrivalRow => ({
  ...{ enrolment, name: enrolment, section: '', due: null, ownDue: false, open: true, openAgain: null, asks: false },
  ...{ secondLook: false, late: '', openedBy: [], parts: '', state: kind, look: '', kind },
  submissions: handedInAt === null ? [] : [{ state: 'handed-in', handedInAt } as never],
});
const CLASS = [
  row('Abel', 'draft', '2026-11-03T08:00:00Z'),
  row('Birch', 'to mark', '2026-11-02T08:00:00Z'),
  row('Crane', 'nothing yet'),
  row('Dale', 'to mark', '2026-11-01T08:00:00Z'),
];
const names = (rows: readonly ArrivalRow[]): string => rows.map((r) => r.enrolment[0]).join('');

describe('the order in which a class is gone through', () => {
  it('is by name, by what waits, by how long, by time in; those that are equal stay by name', () => {
    expect(names(ordered(CLASS, 'name', 'moss'))).toBe('ABCD');
    expect(names(ordered(CLASS, 'waiting', 'moss'))).toBe('BDAC');
    expect(names(ordered(CLASS, 'longest', 'moss'))).toBe('DBAC');
    expect(names(ordered(CLASS, 'arrival', 'moss'))).toBe('DBAC');
  });

  it('shuffled is the same each time for one assessment, and another for another', () => {
    const many = Array.from({ length: 40 }, (_, i) => row(`s${i}`, 'to mark'));
    const of = (seed: string): string[] => ordered(many, 'shuffled', seed).map((r) => r.enrolment);
    expect(of('moss')).toEqual(of('moss'));
    expect(of('moss')).not.toEqual(of('reed'));
    expect(of('moss')).not.toEqual(many.map((r) => r.enrolment));
    expect([...of('moss')].sort()).toEqual(many.map((r) => r.enrolment).sort());
  });

  it('goes on to the next that waits, round the end, and never to the one who is there', () => {
    expect(nextWaiting(CLASS, 'Abel')?.enrolment).toBe('Birch');
    expect(nextWaiting(CLASS, 'Birch')?.enrolment).toBe('Dale');
    expect(nextWaiting(CLASS, 'Dale')?.enrolment).toBe('Birch');
    expect(nextWaiting(CLASS, '')?.enrolment).toBe('Birch');
    expect(nextWaiting(CLASS.slice(0, 2), 'Birch')).toBeNull();
  });

  it('begins with the assessment that was due first of those with work that waits', () => {
    const all = [
      { id: 'test', due: null },
      { id: 'reed', due: '2026-11-10T17:00:00Z' },
      { id: 'moss', due: '2026-10-10T16:00:00Z' },
    ];
    expect(firstWaiting(all, new Map([['test', 3], ['reed', 1]]))?.id).toBe('reed'); // prettier-ignore
    expect(firstWaiting(all, new Map([['test', 3]]))?.id).toBe('test');
    expect(firstWaiting(all, new Map([['moss', 0]]))).toBeNull();
  });
});
