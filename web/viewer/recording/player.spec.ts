import { describe, expect, it } from 'vitest';
import { barsOf, lengthWords } from './player';

describe('a recording', () => {
  it('has its length in minutes and seconds', () => {
    expect([0, 4.4, 59.6, 60, 725].map(lengthWords)).toEqual(['0:00', '0:04', '1:00', '1:00', '12:05']);
    expect(lengthWords(-1)).toBe('0:00');
  });

  it('is drawn in so many bars, each as loud as the loudest of its part, however much was measured', () => {
    expect(barsOf([])).toEqual([]);
    expect(barsOf([0, 100, 20, 40], 2)).toEqual([1, 0.4]);
    expect(barsOf([50], 3)).toEqual([0.5, 0.5, 0.5]);
    for (const measured of [1, 7, 59, 60, 61, 400]) {
      const levels = Array.from({ length: measured }, (_, i) => (i === measured - 1 ? 100 : 10));
      const bars = barsOf(levels);
      expect(bars).toHaveLength(60);
      // Nothing of it is left out: its loudest end is in the last bar.
      expect([bars.at(-1), Math.max(...bars)]).toEqual([1, 1]);
    }
  });
});
