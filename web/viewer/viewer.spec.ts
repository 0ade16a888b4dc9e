import { codeLanguage, readText } from './read-text';
import { highlight } from './highlight';
import { shownAs } from './work-file';

const file = (mediaType: string | null, bytes = 10, name = 'work') => ({ mediaType, bytes, name });

describe('what a file is shown as', () => {
  it('follows from its content, never from its name', () => {
    expect(shownAs(file('application/pdf'))).toBe('pdf');
    expect(shownAs(file('image/jpeg'))).toBe('picture');
    expect(shownAs(file('image/heic'))).toBe('heic');
    expect(shownAs(file('text/plain'))).toBe('text');
    expect(shownAs(file('audio/wav'))).toBe('sound');
    expect(shownAs(file('video/mp4'))).toBe('film');
    // Markup is read as what it is written in: an image that is a program is no picture.
    for (const type of ['image/svg+xml', 'application/zip', 'application/x-msdownload', null])
      expect(shownAs(file(type))).toEqual({ why: expect.stringContaining('not shown here') as string });
  });

  it('is nothing where there is nothing, or too much', () => {
    expect(shownAs(file('application/pdf', 0))).toEqual({ why: 'This file is empty.' });
    expect(shownAs(file('application/pdf', 300_000_000))).toEqual({
      why: expect.stringContaining('too large') as string,
    });
    expect(shownAs(file('text/plain', 10, 'stations.CSV'))).toBe('csv');
    expect(shownAs(file('application/pdf', 10, 'stations.csv'))).toBe('pdf');
    expect(shownAs(file('text/plain', 5_000_000))).toEqual({ why: expect.stringContaining('too large') as string });
  });
});

describe('a text', () => {
  const bytes = (...codes: number[]) => Uint8Array.from(codes);
  it('is read in the letters that it was written in', () => {
    expect(readText(new TextEncoder().encode('Bläulich, 3 °C'))).toBe('Bläulich, 3 °C');
    expect(readText(bytes(0xef, 0xbb, 0xbf, 0x61))).toBe('a');
    expect(readText(bytes(0xff, 0xfe, 0x61, 0, 0xe4, 0))).toBe('aä');
    expect(readText(bytes(0xfe, 0xff, 0, 0x61, 0, 0xe4))).toBe('aä');
    expect(readText(bytes(0x62, 0xe4, 0x68))).toBe('bäh');
  });

  it('that is code is coloured in parts that together are the text, whatever stands in it', () => {
    expect(codeLanguage('gauge.PY')).toBe('python');
    expect(codeLanguage('notes.txt')).toBeNull();
    expect(codeLanguage('a.constructor')).toBeNull();
    for (const text of ['for x in y:\n  print("<b>&amp;</b>", 3) # done', '<script>alert(1)</script>', '']) {
      const parts = highlight(text, 'python');
      expect(parts.map((p) => p.text).join('')).toBe(text);
    }
    const looks = highlight('for x in y: # done', 'python').map((p) => p.look);
    expect(looks).toContain('hljs-keyword');
    expect(looks).toContain('hljs-comment');
  });
});
