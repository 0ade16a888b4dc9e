import { noTicks } from '@core/statistics/ticks';
import { spread, ticksInWords } from './tick-rail';

describe('the tick rail', () => {
  it('has a tick a student in a fixed order, and says its counts in words', () => {
    const counts = { ...noTicks(), toMark: 2, released: 1, missing: 1 };
    expect(spread(counts, 60)).toEqual(['released', 'toMark', 'toMark', 'missing']);
    expect(ticksInWords(counts)).toBe('1 released · 2 to mark · 1 missing');
  });
  it('lets a tick stand for several in a large class, and never hides a state that occurs', () => {
    const ticks = spread({ ...noTicks(), released: 399, toMark: 1 }, 60);
    expect(ticks.length).toBeLessThanOrEqual(61);
    expect(ticks.filter((t) => t === 'toMark')).toHaveLength(1);
  });
});
