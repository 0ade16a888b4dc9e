import { StatusBar } from './status-bar';

describe('the bar at the foot', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('does not talk over what it told, until some seconds later or the person moves on', () => {
    const foot = new StatusBar();
    foot.setIdle('Adler, Moss', true);
    expect(foot.message()).toBe('Adler, Moss');
    foot.announce('3 cells pasted.', 'trouble');
    foot.setIdle('Adler, Moss: 5', false);
    expect([foot.message(), foot.tone()]).toEqual(['3 cells pasted.', 'trouble']);
    vi.advanceTimersByTime(6_000);
    expect([foot.message(), foot.tone()]).toEqual(['Adler, Moss: 5', 'plain']);
    foot.announce('Put back: 3 cells.');
    foot.setIdle('Birch, Moss', true);
    expect(foot.message()).toBe('Birch, Moss');
    vi.advanceTimersByTime(6_000);
    expect(foot.message()).toBe('Birch, Moss');
  });

  it('keeps what was told where one is, though the page hears of the move there only afterwards', () => {
    const foot = new StatusBar();
    let place = '3 4';
    const end = foot.follow(() => place);
    foot.setIdle('Adler, Moss');
    place = '5 6';
    foot.announce('Levels are given in the marking room.');
    foot.setIdle('Birch, Moss');
    expect(foot.message()).toBe('Levels are given in the marking room.');
    place = '5 7';
    foot.setIdle('Birch, Sedge');
    expect(foot.message()).toBe('Birch, Sedge');
    end();
    foot.announce('Kept.');
    foot.setIdle('elsewhere');
    expect(foot.message()).toBe('Kept.');
  });

  it('says nothing of a page that is left, but what happened there for its seconds', () => {
    const foot = new StatusBar();
    const said = () => [foot.message(), foot.keys().length, foot.sheet().length];
    const begin = (words: string) => {
      foot.keys.set([{ key: 'Tab', label: 'next word' }]);
      foot.sheet.set([{ title: words, keys: foot.keys() }]);
      foot.setIdle(words);
    };
    begin('60 changes, 476 lines in all.');
    foot.leavePage();
    expect(said()).toEqual(['', 0, 0]);

    begin('3 picked.');
    foot.announce('Released to 3 students.', 'trouble');
    foot.leavePage();
    expect(said()).toEqual(['Released to 3 students.', 0, 0]);
    vi.advanceTimersByTime(6_000);
    expect([foot.message(), foot.tone()]).toEqual(['', 'plain']);

    let place = 'Adler';
    foot.announce('Soil pit is made.');
    foot.leavePage();
    foot.follow(() => place);
    foot.setIdle('Adler, Moss');
    expect(foot.message()).toBe('Soil pit is made.');
    place = 'Birch';
    foot.setIdle('Birch, Sedge');
    expect(foot.message()).toBe('Birch, Sedge');
  });
});
