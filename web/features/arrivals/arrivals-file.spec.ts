import type { ArrivalRow } from '../../data/work/arrival-rows';
import { arrivalsCsv } from './arrivals-file';

const row = (more: Partial<ArrivalRow>): ArrivalRow => ({
  ...{ enrolment: 's1', name: 'Adler, Ada', section: 'North', due: '2026-11-20T17:00:00Z', ownDue: false, open: true },
  ...{
    openAgain: null,
    asks: false,
    secondLook: false,
    late: '',
    openedBy: [],
    submissions: [],
    parts: '',
    state: 'to mark',
    look: 'blue',
    kind: 'to mark',
  },
  ...more,
});
const submission = (state: 'begun' | 'handed-in', handedInAt: string | null) => ({
  ...{
    id: 'w',
    state,
    version: 2,
    typed: '',
    link: '',
    files: [],
    statement: null,
    receipt: handedInAt && 'LT-ABC-DEF',
  },
  ...{ attempt: handedInAt && 1, begunAt: '2026-11-20T16:00:00Z', handedInAt },
});
const people = new Map([['s1', { number: 'N1', family: '=Adler', given: 'Ada "A"' }]]);

describe('the list of what came in, as a file', () => {
  it('has everybody, with when and how late; no name is a formula', () => {
    const late = row({ submissions: [submission('handed-in', '2026-11-20T17:10:30Z')] as never });
    const [heads, line] = arrivalsCsv([late], people, false).trim().split(/\r?\n/);
    expect(heads).toContain('Number,Family name,First name,Section,State,Handed in,Minutes late,Attempt,Receipt');
    expect(line).toContain('2026-11-20T17:10:30Z,11,1,LT-ABC-DEF');
    expect(line).not.toMatch(/(^|,)"?=Adler/);
    expect(line).toContain('"Ada ""A"""');
  });

  it('says who was there where handing in shows that, and only of what was handed in', () => {
    const begun = row({ submissions: [submission('begun', null)] as never });
    const there = row({ submissions: [submission('handed-in', '2026-11-20T16:00:00Z')] as never });
    const lines = arrivalsCsv([there, begun], people, true).trim().split(/\r?\n/);
    expect(lines[0]).toMatch(/,Was there$/);
    expect(lines[1]).toMatch(/,yes$/);
    expect(lines[2]).toMatch(/,$/);
  });
});
