import { spreadLetters } from './spread-letters';

/** A piece as the library makes it: 100 px wide by itself. */
function piece(text: string, styles: Record<string, string> = {}): HTMLElement {
  const span = document.createElement('span');
  span.textContent = text;
  for (const [name, value] of Object.entries(styles)) span.style.setProperty(name, value);
  Object.defineProperty(span, 'offsetWidth', { value: 100 });
  return span;
}
function layer(least: string): HTMLElement {
  const div = document.createElement('div');
  div.style.setProperty('--min-font-size', least);
  return div;
}

describe('the text of a page', () => {
  it('has its width by the space between its letters', () => {
    const [narrow, as, wide] = [piece('reeds', { '--scale-x': '0.8' }), piece('moss'), piece('peat', { '--scale-x': '1.1' })]; // prettier-ignore
    spreadLetters(layer('1'), [narrow, as, wide]);
    expect([narrow, as, wide].map((p) => Math.round(parseFloat(p.style.letterSpacing) * 1e6) / 1e6)).toEqual([-4, 0, 2.5]); // prettier-ignore
    expect([narrow, as, wide].every((p) => p.classList.contains('spread'))).toBe(true);
  });

  it('stays scaled where it is turned, or where the browser draws no small letters', () => {
    const turned = piece('reeds', { '--scale-x': '0.8', '--rotate': '90deg' });
    spreadLetters(layer('1'), [turned, piece('')]);
    const large = piece('reeds', { '--scale-x': '0.8' });
    spreadLetters(layer('10'), [large]);
    expect([turned, large].map((p) => [p.className, p.style.letterSpacing])).toEqual([['', ''], ['', '']]); // prettier-ignore
  });
});
