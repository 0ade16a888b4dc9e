import {
  PDFDocument,
  PDFHexString,
  PDFString,
  StandardFonts,
  type PDFFont,
  type PDFImage,
  type PDFPage,
  type PDFRef,
} from '@cantoo/pdf-lib';
import { strokeLines } from '@core/marks/stroke';
import { topOf, type Box, type Ink, type Point } from '@core/marks/work-mark';
import type { BoardMark } from '../board-mark';
import { stackNotes } from '../stack-notes';
import type { CopySource, DrawWords } from './copy-source';
import { marksSheet } from './marks-sheet';
import { Letters } from './letters';
import { wrap } from './wrap';
import { shownHeight, shownWidth, toPage, withMargin, type PagePlane } from './page-plane';

const COLOURS: Record<Ink, [number, number, number]> = {
  plum: [0.42, 0.235, 0.47],
  teal: [0.047, 0.353, 0.369],
  umber: [0.56, 0.29, 0.024],
  ink: [0.078, 0.196, 0.227],
};
/** Width of the margin, and sizes of letters, in widths of the page. */
const MARGIN = 0.34;
const WRITTEN = 0.0165;
const ON_WORK = 0.022;
const LINE = 1.3;

type Matrix = [number, number, number, number, number, number];

/** The work with its marks as standard annotations; of what is no page, or cannot be opened, a sheet with the marks. */
export async function markedCopy(source: CopySource, drawWords: DrawWords): Promise<Uint8Array> {
  try {
    return (await markedPages(source, drawWords)) ?? (await marksSheet(source, drawWords));
  } catch (error) {
    // Damaged or protected: what could be opened is no reason to leave the marks out.
    console.warn('no marked copy of the pages', error);
    return marksSheet(source, drawWords);
  }
}

async function markedPages(source: CopySource, drawWords: DrawWords): Promise<Uint8Array | null> {
  const document = await openSource(source);
  if (document === null) return null;
  const maker = new CopyMaker(document, await document.embedFont(StandardFonts.Helvetica), drawWords);
  for (const [index, page] of document.getPages().entries()) {
    const marks = source.marks.filter(({ mark: { surface: s } }) => (s.on === 'page' ? s.index : 0) === index);
    if (marks.length > 0) await maker.mark(page, marks);
  }
  return document.save();
}

async function openSource({ kind, bytes }: CopySource): Promise<PDFDocument | null> {
  // A protected file is not opened: its protection would be taken off.
  if (kind === 'pdf') return PDFDocument.load(bytes, { updateMetadata: false });
  if (kind === 'none') return null;
  const document = await PDFDocument.create();
  const picture = await document.embedJpg(bytes);
  const width = 595;
  const page = document.addPage([width, (width * picture.height) / picture.width]);
  page.drawImage(picture, { x: 0, y: 0, width: page.getWidth(), height: page.getHeight() });
  return document;
}

const contents = (words: string): PDFHexString => PDFHexString.fromText(words);
const n = (v: number): string => (Math.round(v * 1000) / 1000).toString();

class CopyMaker {
  private readonly letters: Letters;

  constructor(
    private readonly document: PDFDocument,
    private readonly font: PDFFont,
    private readonly drawWords: DrawWords,
  ) {
    this.letters = new Letters(font);
  }

  async mark(page: PDFPage, marks: CopySource['marks']): Promise<void> {
    const crop = page.getCropBox();
    const plane: PagePlane = { ...crop, turn: ((page.getRotation().angle % 360) + 360) % 360 };
    const width = shownWidth(plane);
    const says = marks.filter((m) => m.mark.kind !== 'text' && noteOf(m) !== '');
    if (says.length > 0) {
      const wider = withMargin(plane, MARGIN * width);
      page.setMediaBox(wider.x, wider.y, wider.width, wider.height);
      page.setCropBox(wider.x, wider.y, wider.width, wider.height);
    }
    const matrix = toPage(plane);
    for (const m of marks) await this.place(page, matrix, width, m);
    await this.writeMargin(page, matrix, width, shownHeight(plane), says);
  }

  /** The mark itself, where it lies. */
  private async place(page: PDFPage, matrix: Matrix, width: number, m: CopySource['marks'][number]): Promise<void> {
    const { mark } = m;
    const colour = COLOURS[mark.ink];
    const boxes = (mark.boxes ?? []).map((b) => b.map((v) => v * width) as Box);
    if ((mark.kind === 'highlight' || mark.kind === 'strike') && boxes.length > 0) {
      const strike = mark.kind === 'strike';
      const drawing = boxes.map(([x, y, w, h]) =>
        strike
          ? `${n(x)} ${n(y + h * 0.55)} m ${n(x + w)} ${n(y + h * 0.55)} l S`
          : `/Tint gs ${n(x)} ${n(y)} ${n(w)} ${n(h)} re f /Full gs ${n(x)} ${n(y + h)} m ${n(x + w)} ${n(y + h)} l S`,
      );
      const head = `${colour.map(n).join(' ')} RG ${colour.map(n).join(' ')} rg ${n(0.0022 * width)} w`;
      const quads = boxes.flatMap(([x, y, w, h]) => [[x, y], [x + w, y], [x, y + h], [x + w, y + h]].flatMap((p) => moved(matrix, p as Point))); // prettier-ignore
      this.add(page, m, strike ? 'StrikeOut' : 'Highlight', matrix, around(boxes, 2), [head, ...drawing].join('\n'), {
        QuadPoints: quads,
      });
      if (mark.wording) await this.write(page, m, matrix, [boxes[0]![0], boxes[0]![1] - 0.02 * width], WRITTEN * width, [mark.wording]); // prettier-ignore
    }
    if (mark.kind === 'pen' && mark.strokes) {
      const lines = mark.strokes.flatMap((s) => strokeLines(s));
      const drawing = lines.map((l) => {
        let [x, y] = l.from;
        const curves = l.curves.map(([a, b, ex, ey]) => {
          // A curve with one control point as the PDF's with two.
          const c = [x + (2 / 3) * (a - x), y + (2 / 3) * (b - y), ex + (2 / 3) * (a - ex), ey + (2 / 3) * (b - ey), ex, ey]; // prettier-ignore
          [x, y] = [ex, ey];
          return `${c.map((v) => n(v * width)).join(' ')} c`;
        });
        return `${n(l.width * width)} w ${n(l.from[0] * width)} ${n(l.from[1] * width)} m ${curves.join(' ')} S`;
      });
      const points = mark.strokes.flat().map(([x, y]): Box => [x * width, y * width, 0, 0]);
      const ink = mark.strokes.map((s) => s.flatMap(([x, y]) => moved(matrix, [x * width, y * width])));
      const head = `${colour.map(n).join(' ')} RG 1 J 1 j`;
      this.add(page, m, 'Ink', matrix, around(points, 0.005 * width), [head, ...drawing].join('\n'), { InkList: ink });
    }
    if (mark.kind === 'text' && mark.at) {
      const size = ON_WORK * width;
      const lines = this.wrapped(mark.comment, size, Math.max(0.1, Math.min(0.6, 1 - mark.at[0])) * width);
      await this.write(page, m, matrix, [mark.at[0] * width, mark.at[1] * width], size, lines);
    }
  }

  /** What is said of marks, beside their lines. */
  private async writeMargin(
    page: PDFPage,
    matrix: Matrix,
    width: number,
    height: number,
    says: CopySource['marks'],
  ): Promise<void> {
    // prettier-ignore
    const size = WRITTEN * width;
    const written = says.map((m) => ({ m, lines: this.wrapped(noteOf(m), size, (MARGIN - 0.06) * width) }));
    const places = written.map(({ m, lines }) => {
      const wants = lines.length * size * LINE;
      return { id: m.id, top: (topOf(m.mark) ?? 0) * width, height: wants };
    });
    const tops = stackNotes(places, '', { from: 0, to: height, workTo: height });
    for (const { m, lines } of written) {
      const top = Math.max(0, tops.get(m.id)!);
      await this.write(page, m, matrix, [1.035 * width, top], size, lines);
      const colour = COLOURS[m.mark.ink].map(n).join(' ');
      const y = top + size * 0.8;
      const dash = `${colour} RG ${n(0.002 * width)} w ${n(1.005 * width)} ${n(y)} m ${n(1.03 * width)} ${n(y)} l S`;
      this.add(page, m, 'Line', matrix, [1.003 * width, y - 3, 0.03 * width, 6], dash, {
        L: [...moved(matrix, [1.005 * width, y]), ...moved(matrix, [1.03 * width, y])],
      });
    }
  }

  private wrapped(words: string, size: number, width: number): string[] {
    return words.split('\n').flatMap((line) => wrap(line, (t) => this.letters.widthOf(t, size) <= width));
  }

  /** Lines of words from an upper left corner, as they are seen when the page is not turned. */
  private async write(
    page: PDFPage,
    m: CopySource['marks'][number],
    matrix: Matrix,
    [x, y]: Point,
    size: number,
    lines: string[],
  ): Promise<void> {
    // prettier-ignore
    const colour = COLOURS[m.mark.ink];
    const width = Math.max(size, ...lines.map((l) => this.letters.widthOf(l, size)));
    const box: Box = [x, y, width, lines.length * size * LINE];
    const more = { DA: PDFString.of(`/Helv ${n(size)} Tf ${colour.map(n).join(' ')} rg`) };
    const said = m.mark.kind === 'text' ? m.mark.comment : lines.join('\n');
    let drawing: string[] = [];
    if (lines.every((l) => this.letters.has(l)))
      drawing = lines.map((l, i) => {
        const shown = this.font.encodeText(l).toString();
        // Letters stand upright although the page is counted downwards.
        return `BT /Helv ${n(size)} Tf 1 0 0 -1 ${n(x)} ${n(y + size * (i * LINE + 1))} Tm ${shown} Tj ET`;
      });
    else {
      const png = await this.drawWords(lines, size, `rgb(${colour.map((c) => Math.round(c * 255)).join(' ')})`);
      const picture = png && (await this.document.embedPng(png));
      if (picture) return this.add(page, m, 'FreeText', matrix, box, pictureDrawing(box), more, said, picture);
    }
    this.add(page, m, 'FreeText', matrix, box, [`${colour.map(n).join(' ')} rg`, ...drawing].join('\n'), more, said);
  }

  private add(
    page: PDFPage,
    m: CopySource['marks'][number],
    subtype: string,
    matrix: Matrix,
    box: Box,
    drawing: string,
    more: Record<string, unknown>,
    said = noteOf(m),
    picture?: PDFImage,
  ): void {
    const { context } = this.document;
    const corners = [[box[0], box[1]], [box[0] + box[2], box[1] + box[3]]].map((p) => moved(matrix, p as Point)); // prettier-ignore
    const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
    const rect = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
    const form = context.stream(`q ${matrix.map(n).join(' ')} cm\n${drawing}\nQ`, {
      Type: 'XObject',
      Subtype: 'Form',
      BBox: rect,
      Resources: {
        Font: { Helv: this.font.ref },
        ExtGState: { Tint: { ca: 0.22, BM: 'Multiply' }, Full: { ca: 1, BM: 'Normal' } },
        ...(picture ? { XObject: { Words: picture.ref } } : {}),
      },
    });
    const annotation = context.obj({
      Type: 'Annot',
      Subtype: subtype,
      Rect: rect,
      F: 4,
      C: COLOURS[m.mark.ink],
      NM: PDFString.of(`${m.id} ${subtype}`),
      T: contents(m.by),
      ...(said === '' ? {} : { Contents: contents(said) }),
      ...(m.at === '' ? {} : { M: PDFString.fromDate(new Date(m.at)) }),
      AP: { N: context.register(form) },
      ...more,
    } as Parameters<typeof context.obj>[0]);
    page.node.addAnnot(context.register(annotation) as PDFRef);
  }
}

const pictureDrawing = ([x, y, w, h]: Box): string => `q ${n(w)} 0 0 ${n(-h)} ${n(x)} ${n(y + h)} cm /Words Do Q`;

function moved([a, b, c, d, e, f]: Matrix, [x, y]: Point): Point {
  return [a * x + c * y + e, b * x + d * y + f];
}

function around(boxes: readonly Box[], by: number): Box {
  const [left, top] = [Math.min(...boxes.map((b) => b[0])) - by, Math.min(...boxes.map((b) => b[1])) - by];
  const [right, bottom] = [Math.max(...boxes.map((b) => b[0] + b[2])), Math.max(...boxes.map((b) => b[1] + b[3]))];
  return [left, top, right + by - left, bottom + by - top];
}

/** What is said of a mark in the margin; '' nothing. */
const noteOf = ({ mark }: BoardMark): string => (mark.kind === 'text' ? '' : mark.comment);
