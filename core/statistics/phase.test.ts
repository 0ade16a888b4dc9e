import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { phaseOf, PHASES } from './phase';
import { noTicks, TICKS, type TickCounts } from './ticks';

const now = '2026-11-24T09:00:00Z';
const past = '2026-11-01T17:00:00Z';
const future = '2026-12-01T17:00:00Z';
const ticks = (some: Partial<TickCounts>): TickCounts => ({ ...noTicks(), ...some });

describe('the phase of an assessment', () => {
  it('goes from planned to released', () => {
    expect([
      phaseOf(ticks({ nothing: 20 }), null, now),
      phaseOf(ticks({ nothing: 18, toMark: 2 }), null, now),
      phaseOf(ticks({ nothing: 20 }), future, now),
      phaseOf(ticks({ nothing: 15, draft: 5 }), future, now),
      phaseOf(ticks({ missing: 3, toMark: 17 }), past, now),
      phaseOf(ticks({ missing: 20 }), past, now),
      phaseOf(ticks({ missing: 3, draft: 16, excused: 1 }), past, now),
      phaseOf(ticks({ released: 17, draft: 3 }), past, now),
      phaseOf(ticks({ released: 17, missing: 2, excused: 1 }), past, now),
      phaseOf(ticks({ released: 20 }), future, now),
      phaseOf(ticks({ released: 20 }), null, now),
    ]).toEqual([
      'planned',
      'open',
      'open',
      'open',
      'due',
      'due',
      'marked',
      'marked',
      'released',
      'released',
      'released',
    ]);
  });

  it('never goes back as work is marked and released', () => {
    const counts = fc.record(
      Object.fromEntries(TICKS.map((t) => [t, fc.nat(9)])) as Record<keyof TickCounts, fc.Arbitrary<number>>,
    );
    const steps = [
      ['nothing', 'toMark'],
      ['toMark', 'draft'],
      ['draft', 'released'],
    ] as const;
    fc.assert(
      fc.property(counts, fc.constantFrom(...steps), fc.constantFrom(past, future, null), (t, [from, to], due) => {
        fc.pre(t[from] > 0);
        const before = PHASES.indexOf(phaseOf(t, due, now));
        const after = PHASES.indexOf(phaseOf({ ...t, [from]: t[from] - 1, [to]: t[to] + 1 }, due, now));
        expect(after).toBeGreaterThanOrEqual(before);
      }),
    );
  });
});
