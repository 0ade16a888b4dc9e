import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import type { BoardMark } from '../board-mark';
import { markLabel } from '../mark-label';
import type { CopySource, DrawWords } from './copy-source';
import { Letters } from './letters';
import { wrap } from './wrap';

/** The marks one after the other, for work that has no pages of its own or whose file is protected or damaged. */
export async function marksSheet(source: CopySource, drawWords: DrawWords): Promise<Uint8Array> {
  const document = await PDFDocument.create();
  const font = await document.embedFont(StandardFonts.Helvetica);
  const size = 10.5;
  const letters = new Letters(font);
  const fits = (t: string): boolean => letters.widthOf(t, size) <= 480;
  const all = [source.name, '', ...source.marks.map((m) => `${placeOf(m)}${markLabel(m)}`)];
  let page = document.addPage([595, 842]);
  let y = 790;
  for (const lines of all.flatMap((words) => pieces(wrap(words, fits)))) {
    if (y - lines.length * size * 1.4 < 50) {
      page = document.addPage([595, 842]);
      y = 790;
    }
    if (lines.every((l) => letters.has(l)))
      for (const l of lines) {
        page.drawText(l, { x: 56, y, size, font });
        y -= size * 1.4;
      }
    else {
      const png = await drawWords(lines, size, 'rgb(20 50 58)');
      const picture = png && (await document.embedPng(png));
      if (picture) page.drawImage(picture, { x: 56, y: y - picture.height / 2 + size, width: picture.width / 2, height: picture.height / 2 }); // prettier-ignore
      y -= lines.length * size * 1.4;
    }
    y -= 6;
  }
  return document.save();
}

/** Lines of one piece of words, so that each piece fits a page. */
const MOST_LINES = 40;

function pieces(lines: string[]): string[][] {
  return Array.from({ length: Math.ceil(lines.length / MOST_LINES) }, (_, i) =>
    lines.slice(i * MOST_LINES, (i + 1) * MOST_LINES),
  );
}

const placeOf = ({ mark: { surface: s } }: BoardMark): string => (s.on === 'page' ? `Page ${s.index + 1}. ` : '');
