import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY, HOUR, localDay, shiftDays } from './local-days';

const at = (text: string): number => Date.parse(text);

describe('days on', () => {
  it('keep the local time over a change of the clock', () => {
    expect(shiftDays('Europe/Dublin', at('2026-10-20T16:00:00Z'), 14)).toBe(at('2026-11-03T17:00:00Z'));
    expect(shiftDays('Europe/Dublin', at('2026-11-03T17:00:00Z'), -14)).toBe(at('2026-10-20T16:00:00Z'));
    // 02:30 does not exist on 29 March 2026 in Berlin: an hour later it is.
    expect(shiftDays('Europe/Berlin', at('2026-03-28T01:30:00Z'), 1)).toBe(at('2026-03-29T01:30:00Z'));
  });

  it('are as many local days on, by whole days but for the clock', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('Europe/Dublin', 'America/St_Johns', 'Asia/Kathmandu', 'Australia/Lord_Howe'),
        fc.integer({ min: at('2025-01-01T00:00:00Z'), max: at('2028-01-01T00:00:00Z') }),
        fc.integer({ min: -400, max: 400 }),
        (zone, from, days) => {
          const to = shiftDays(zone, from, days);
          expect(localDay(zone, to) - localDay(zone, from)).toBe(days);
          expect(Math.abs(to - from - days * DAY)).toBeLessThanOrEqual(HOUR);
        },
      ),
    );
  });
});
