import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cleanRichText, isEmptyText, wordsOf } from './rich-text';

const text = (words: string, ...marks: object[]) => ({ type: 'text', text: words, marks });
const paragraph = (...content: object[]) => ({ type: 'paragraph', content });

describe('text with formatting', () => {
  it('keeps what people write', () => {
    const doc = {
      type: 'doc',
      content: [
        { type: 'heading', attrs: { level: 2 }, content: [text('What to do')] },
        paragraph(
          text('Read '),
          text('this', { type: 'bold' }, { type: 'link', attrs: { href: 'https://fens.example' } }),
        ),
        {
          type: 'orderedList',
          attrs: { start: 1 },
          content: [{ type: 'listItem', content: [paragraph(text('Dig'))] }],
        },
      ],
    };
    const kept = cleanRichText(doc);
    expect(wordsOf(kept)).toBe('What to do\nRead this\nDig');
    expect(JSON.stringify(kept)).toContain('"href":"https://fens.example"');
    expect(JSON.stringify(kept)).not.toContain('start');
    expect(cleanRichText(kept)).toEqual(kept);
  });

  it('lets no script through, in a link or elsewhere, and loses no words by that', () => {
    const hostile = [
      'javascript:alert(1)',
      'data:text/html,x',
      ' https://x',
      'vbscript:x',
      '//x',
      'https://x"onclick=1',
    ];
    for (const href of hostile) {
      const kept = cleanRichText({ content: [paragraph(text('here', { type: 'link', attrs: { href } }))] });
      expect(kept.content).toEqual([{ type: 'paragraph', content: [{ type: 'text', text: 'here' }] }]);
    }
    const odd = {
      content: [
        { type: 'script', content: [text('words')] },
        { type: 'image', attrs: { src: 'x' } },
      ],
    };
    expect(cleanRichText(odd).content).toEqual([{ type: 'paragraph', content: [{ type: 'text', text: 'words' }] }]);
  });

  it('is bounded in depth, whatever was pasted', () => {
    let deep: object = paragraph(text('bottom'));
    for (let n = 0; n < 50; n++) deep = { type: 'bulletList', content: [{ type: 'listItem', content: [deep] }] };
    const kept = cleanRichText({ content: [deep] });
    expect(JSON.stringify(kept).split('bulletList')).toHaveLength(5);
    expect(wordsOf(kept)).toBe('bottom');
  });

  it('takes anything, and what it gives it gives again', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const once = cleanRichText({ content: [value] });
        expect(cleanRichText(once)).toEqual(once);
      }),
    );
    expect(isEmptyText(cleanRichText(null))).toBe(true);
  });
});
