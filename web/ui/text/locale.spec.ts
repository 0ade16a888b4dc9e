import { figuresIn, inDecimals, locale, titlesWithPoints, withPoints } from './locale';

afterEach(() => {
  locale.set('en-GB');
  titlesWithPoints.set([]);
});

describe('decimals as a person writes them', () => {
  it.each([
    ['87.4', '87,4'],
    ['-0.25', '-0,25'],
    ['80.63 %', '80,63 %'],
    ['12', '12'],
    ['no grade yet', 'no grade yet'],
    ['', ''],
  ])('%s', (text, german) => {
    expect(inDecimals(text)).toBe(text);
    locale.set('de-DE');
    expect(inDecimals(text)).toBe(german);
  });
  it('leaves titles in a sentence as they are written', () => {
    locale.set('fr-FR');
    titlesWithPoints.set(withPoints(['Lab 1.2', 'Report', 'pH 7.5 (field)']));
    expect(figuresIn('Lab 1.2 dropped; keeping it would cost 2.71; pH 7.5 (field) counts 0.5')).toBe(
      'Lab 1.2 dropped; keeping it would cost 2,71; pH 7.5 (field) counts 0,5',
    );
  });
});
