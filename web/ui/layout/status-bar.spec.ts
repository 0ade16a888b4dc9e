import { Foot } from './status-bar';

describe('the bar at the foot', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('does not talk over what it told, until some seconds later or the person moves on', () => {
    const foot = new Foot();
    foot.murmur('Adler, Moss', true);
    expect(foot.says()).toBe('Adler, Moss');
    foot.tell('3 cells pasted.', 'trouble');
    foot.murmur('Adler, Moss: 5', false);
    expect([foot.says(), foot.tone()]).toEqual(['3 cells pasted.', 'trouble']);
    vi.advanceTimersByTime(6_000);
    expect([foot.says(), foot.tone()]).toEqual(['Adler, Moss: 5', 'plain']);
    foot.tell('Put back: 3 cells.');
    foot.murmur('Birch, Moss', true);
    expect(foot.says()).toBe('Birch, Moss');
    vi.advanceTimersByTime(6_000);
    expect(foot.says()).toBe('Birch, Moss');
  });
});
