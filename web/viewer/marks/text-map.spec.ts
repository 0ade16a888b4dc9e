import { findQuote, quoteOf } from '@core/marks/work-mark';
import { offsetIn, rangeOf, textMap } from './text-map';

function page(markup: string): HTMLElement {
  const root = document.createElement('div');
  root.innerHTML = markup;
  document.body.append(root);
  return root;
}

describe('the text of a page as it is quoted', () => {
  it('keeps lines and blocks apart, leaves out what is no text of the work, and finds each stretch again', () => {
    const root = page(
      '<p><span>The pit was </span><span class="b">dug</span> to</p><p>110 cm.</p><svg data-not-text><text>no</text></svg><table><tr><td>a</td><td>b</td></tr></table>line<br>next',
    );
    const map = textMap(root);
    expect(map.text).toBe('The pit was dug to\n110 cm.\na\nbline\nnext');
    for (let start = 0; start < map.text.length; start++)
      for (const end of [start + 1, start + 5, map.text.length]) {
        if (map.text.slice(start, end).trim() === '' || end > map.text.length) continue;
        const range = rangeOf(map, start, end)!;
        const found = [offsetIn(map, range.startContainer, range.startOffset), offsetIn(map, range.endContainer, range.endOffset)]; // prettier-ignore
        expect(map.text.slice(...found).replace(/\n/g, '')).toBe(map.text.slice(start, end).replace(/\n/g, ''));
      }
  });

  it('takes ends of a selection that lie between elements or beyond it', () => {
    const root = page('<p>one</p><p>two</p>');
    const after = page('after');
    const map = textMap(root);
    expect(offsetIn(map, root, 0)).toBe(0);
    expect(offsetIn(map, root, 1)).toBe(4);
    expect(offsetIn(map, after.firstChild!, 2)).toBe(map.text.length);
  });

  it('is found by its words where the page reads otherwise now', () => {
    const was = textMap(page('<p>The drain could be let go.</p>')).text;
    const now = textMap(page('<p>A head</p><p>The <b>drain</b> could be let go.</p>')).text;
    const found = findQuote(now, quoteOf(was, 4, 9))!;
    expect(now.slice(found.start, found.end)).toBe('drain');
  });
});
