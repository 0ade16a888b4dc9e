import { degrees, PDFArray, PDFDict, PDFDocument, PDFHexString, PDFName, type PDFNumber } from '@cantoo/pdf-lib';
import { tidyMark, type WorkMark } from '@core/marks/work-mark';
import type { CopySource } from './copy-source';
import { markedCopy } from './marked-copy';
import { toPage, withMargin, type PagePlane } from './page-plane';
import { wrap } from './wrap';

const mark = (part: Partial<WorkMark>) => ({
  ...{ id: `m${JSON.stringify(part).length}`, by: 'R. Aldous', at: '2026-11-24T09:00:00Z' },
  mark: tidyMark({ kind: 'note', ink: 'plum', surface: { on: 'page', index: 0 }, comment: '', ...part }),
});
const MARKS: CopySource['marks'] = [
  mark({ kind: 'highlight', boxes: [[0.1, 0.2, 0.3, 0.02]], comment: 'Say how you know.' }), // prettier-ignore
  mark({ kind: 'strike', boxes: [[0.1, 0.3, 0.1, 0.02]], wording: 'loam' }),
  mark({ kind: 'note', at: [0.5, 0.5], comment: 'Бурая почва, 褐色の土' }),
  mark({ kind: 'text', at: [0.2, 0.6], comment: 'Good\nopening' }),
  mark({ kind: 'pen', strokes: [[[0.4, 0.4, 0.2], [0.5, 0.45, 0.9]]] }), // prettier-ignore
];

async function pdf(turn = 0): Promise<Uint8Array<ArrayBuffer>> {
  const document = await PDFDocument.create();
  for (let i = 0; i < 2; i++) document.addPage([400, 600]).setRotation(degrees(turn));
  return Uint8Array.from(await document.save());
}
const drawn: string[][] = [];
const draw = (lines: string[]) => {
  drawn.push(lines);
  return Promise.resolve(null);
};
const copy = async (source: Partial<CopySource>) =>
  PDFDocument.load(
    await markedCopy({ kind: 'pdf', bytes: await pdf(), name: 'pit.pdf', marks: MARKS, ...source }, draw),
  );

function annotations(document: PDFDocument, page = 0) {
  const all = document.getPage(page).node.lookupMaybe(PDFName.of('Annots'), PDFArray);
  return Array.from({ length: all?.size() ?? 0 }, (_, i) => {
    const a = all!.lookup(i, PDFDict);
    const numbers = (key: string) => a.lookup(PDFName.of(key), PDFArray).asArray().map((n) => (n as PDFNumber).asNumber()); // prettier-ignore
    const shown = a.lookup(PDFName.of('AP'), PDFDict).lookup(PDFName.of('N'));
    return {
      kind: a.lookup(PDFName.of('Subtype'), PDFName).decodeText(),
      says: a.lookupMaybe(PDFName.of('Contents'), PDFHexString)?.decodeText() ?? '',
      rect: numbers('Rect'),
      numbers,
      hasLook: shown !== undefined,
    };
  });
}

describe('a marked copy', () => {
  it('has each mark as a standard annotation with a look of its own, and what is said beside its line', async () => {
    const document = await copy({});
    const all = annotations(document);
    expect(all.map((a) => a.kind).sort()).toEqual(['FreeText', 'FreeText', 'FreeText', 'FreeText', 'Highlight', 'Ink', 'Line', 'Line', 'StrikeOut']); // prettier-ignore
    expect(all.every((a) => a.hasLook)).toBe(true);
    // Page 400 wide, 600 high: widths from the top left become points from the bottom left.
    expect(all.find((a) => a.kind === 'Highlight')!.numbers('QuadPoints')).toEqual([40, 520, 160, 520, 40, 512, 160, 512]); // prettier-ignore
    expect(all.find((a) => a.kind === 'Highlight')!.says).toBe('Say how you know.');
    // Whatever letters: the words are there whole.
    expect(all.some((a) => a.says === 'Бурая почва, 褐色の土')).toBe(true);
    expect(drawn.flat().join(' ')).toContain('褐色の土');
    expect(document.getPage(0).getCropBox().width).toBeCloseTo(400 * 1.34);
    expect([document.getPage(1).getCropBox().width, annotations(document, 1)]).toEqual([400, []]);
  });

  it('lies where it lay, whichever way the page is turned', async () => {
    for (const turn of [0, 90, 180, 270]) {
      const wide = turn % 180 === 0 ? 400 : 600;
      const document = await copy({ bytes: await pdf(turn) });
      const [left, bottom, right, top] = annotations(document).find((a) => a.kind === 'Ink')!.rect;
      const plane: PagePlane = { x: 0, y: 0, width: 400, height: 600, turn };
      const [a, b, c, d, e, f] = toPage(plane);
      const [x, y] = [0.45 * wide, 0.425 * wide];
      expect((left! + right!) / 2).toBeCloseTo(a * x + c * y + e, 0);
      expect((bottom! + top!) / 2).toBeCloseTo(b * x + d * y + f, 0);
      // The margin is at the right of what is seen.
      const wider = withMargin(plane, 100);
      const corner = [a * (wide + 100) + e, b * (wide + 100) + f];
      expect(corner[0]! >= wider.x && corner[0]! <= wider.x + wider.width).toBe(true);
      expect(corner[1]! >= wider.y && corner[1]! <= wider.y + wider.height).toBe(true);
    }
  });

  it('of what is damaged or has no pages is a sheet with the marks', async () => {
    const broken = await copy({ bytes: new TextEncoder().encode('%PDF-1.7 nothing else') });
    expect([broken.getPageCount(), annotations(broken)]).toEqual([1, []]);
    const many = Array.from({ length: 80 }, (_, i) => mark({ at: [0.1, i / 100], comment: `Note ${i} `.repeat(12) }));
    expect((await copy({ kind: 'none', marks: many })).getPageCount()).toBeGreaterThan(1);
  });

  it('breaks lines between words, and words that are longer than a line', () => {
    const fits = (line: string) => line.length <= 10;
    expect(wrap('one two three', fits)).toEqual(['one two', 'three']);
    expect(wrap('abcdefghijklmnopqrstuvwxyz', fits)).toEqual(['abcdefghij', 'klmnopqrst', 'uvwxyz']);
    expect(wrap('', fits)).toEqual(['']);
  });
});
