import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { canonical } from './canonical';
import { changeCell, type CellChange, type EntryContent } from './change';
import { CELL_EXCEPTIONS, exceptionsIn, makesException, withoutException } from './exceptions';

const attempt = fc.record(
  {
    score: fc.integer({ min: 0, max: 40 }),
    receivedAt: fc.constant('2026-11-20T09:00:00Z'),
    onTime: fc.constant(true as const),
  },
  { requiredKeys: [] },
);
const content: fc.Arbitrary<EntryContent> = fc.record(
  {
    state: fc.constantFrom('excused' as const, 'missing' as const, 'awaiting' as const),
    attempts: fc.array(attempt, { minLength: 1, maxLength: 3 }),
    dueAt: fc.constant('2026-12-01T17:00:00Z'),
    closesAt: fc.constant('2026-12-03T17:00:00Z'),
    lateAllowances: fc.integer({ min: 1, max: 3 }),
    set: fc.integer({ min: 0, max: 20 }),
    protected: fc.constant(true),
  },
  { requiredKeys: [] },
);

describe('an exception', () => {
  it('ended is gone, and nothing else with it', () => {
    fc.assert(
      fc.property(content, (c) => {
        for (const kind of exceptionsIn(c)) {
          const is = withoutException(c, kind);
          expect(exceptionsIn(is)).toEqual(exceptionsIn(c).filter((k) => k !== kind));
          expect(is.attempts?.map((a) => [a.score, a.receivedAt])).toEqual(
            c.attempts?.map((a) => [a.score, a.receivedAt]),
          );
        }
      }),
    );
  });

  it('that is not there changes nothing when it is ended', () => {
    fc.assert(
      fc.property(content, (c) => {
        for (const kind of CELL_EXCEPTIONS)
          if (!exceptionsIn(c).includes(kind)) expect(canonical(withoutException(c, kind))).toBe(canonical(c));
      }),
    );
  });

  it('all ended leave a cell as the rules have it', () => {
    fc.assert(
      fc.property(content, (c) => {
        const bare = exceptionsIn(c).reduce((now, kind) => withoutException(now, kind), c);
        expect(exceptionsIn(bare)).toEqual([]);
      }),
    );
  });

  it('is told from a change that makes none', () => {
    const scored: EntryContent = { attempts: [{ score: 12, receivedAt: '2026-11-20T09:00:00Z' }] };
    const made: [CellChange, boolean][] = [
      [{ kind: 'score', points: 3 }, false],
      [{ kind: 'late', units: 2 }, false],
      [{ kind: 'state', state: 'excused' }, true],
      [{ kind: 'on-time', waived: true }, true],
      [{ kind: 'dates', dueAt: '2026-12-01T17:00:00Z', closesAt: null }, true],
      [{ kind: 'allowances', count: 1 }, true],
      [{ kind: 'set', points: 4 }, true],
      [{ kind: 'protect', on: true }, true],
    ];
    for (const [change, is] of made) {
      expect([change, makesException(scored, change)]).toEqual([change, is]);
      // Made once more it is none that is new.
      expect(makesException(changeCell(scored, change), change)).toBe(false);
    }
    expect(makesException({ set: 4 }, { kind: 'set', points: 5 })).toBe(true);
    expect(makesException({ state: 'excused' }, { kind: 'state', state: null })).toBe(false);
  });
});
