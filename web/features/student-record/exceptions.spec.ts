import { exceptionsOf } from './exceptions';

const zone = 'Europe/Dublin';

describe('the exceptions of a cell', () => {
  it.each([
    [{}, []],
    [{ attempts: [{ score: 17 }] }, []],
    [{ state: 'excused' as const }, ['excused']],
    [{ state: 'missing' as const }, ['missing, said by hand']],
    [{ state: 'awaiting' as const, dueAt: '2026-11-27T17:00:00Z' }, ['still awaited', 'due 27 Nov 17:00']],
    [{ closesAt: '2026-11-30T17:00:00Z', lateAllowances: 1 }, ['open until 30 Nov 17:00', '1 late allowance']],
    [{ lateAllowances: 2 }, ['2 late allowances']],
    [{ set: 12, protected: true }, ['score set to 12', 'always kept']],
    [{ attempts: [{ score: 5, lateUnits: 2 }] }, ['2 late, said by hand']],
    [{ attempts: [{ score: 5, lateUnits: 2, onTime: true }] }, ['lateness waived']],
  ])('%j', (content, message) => expect(exceptionsOf(content, zone)).toEqual(message));
});
