import PDFDocument from 'pdfkit';
import type { Random } from '../random';
import { paragraph, readings } from './words';

const MARGIN = 64;

/** A report as a PDF: text, a table and a drawing on every third page. `password`: it opens with that alone. */
export function reportPdf(
  random: Random,
  of: { title: string; author: string; pages: number; at: string; password?: string },
): Promise<Buffer> {
  const made = new Date(of.at);
  const pdf = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    info: { Title: of.title, Author: of.author, CreationDate: made, ModDate: made },
    ...(of.password === undefined ? {} : { userPassword: of.password, pdfVersion: '1.7' as const }),
  });
  const pieces: Buffer[] = [];
  pdf.on('data', (piece: Buffer) => pieces.push(piece));
  pdf.font('Times-Bold').fontSize(22).text(of.title);
  pdf.font('Times-Roman').fontSize(12).text(of.author).moveDown(2);
  for (let page = 1; page <= of.pages; page++) {
    if (page > 1) pdf.addPage();
    pdf.font('Times-Roman').fontSize(11);
    for (let n = 0; n < 3; n++) pdf.text(paragraph(random, 4), { align: 'justify' }).moveDown();
    if (page % 3 === 1) drawTable(pdf, readings(random, 6));
    if (page % 3 === 2) drawProfile(pdf, random);
    pdf.fontSize(9).text(String(page), MARGIN, 800, { align: 'center', lineBreak: false });
  }
  return new Promise((done, failed) => {
    pdf.on('end', () => done(Buffer.concat(pieces)));
    pdf.on('error', failed);
    pdf.end();
  });
}

function drawTable(pdf: PDFKit.PDFDocument, rows: string[][]): void {
  const top = pdf.y + 6;
  rows.forEach((row, y) =>
    row.forEach((cell, x) => {
      pdf.font(y === 0 ? 'Helvetica-Bold' : 'Helvetica').fontSize(9);
      pdf.text(cell, MARGIN + x * 110, top + y * 16, { lineBreak: false });
    }),
  );
  pdf
    .moveTo(MARGIN, top + 13)
    .lineTo(MARGIN + 440, top + 13)
    .stroke();
}

/** Layers of a pit, each in its brown, with a scale at the side. */
function drawProfile(pdf: PDFKit.PDFDocument, random: Random): void {
  let y = pdf.y + 10;
  for (const brown of ['#4a3a2a', '#6b5138', '#8f7350', '#b49a72']) {
    const height = 24 + random.next() * 40;
    pdf.rect(MARGIN + 60, y, 240, height).fillAndStroke(brown, '#222222');
    pdf.fillColor('#000000').font('Helvetica').fontSize(8);
    pdf.text(`${Math.round((y - pdf.y) / 2)} cm`, MARGIN, y, { lineBreak: false });
    y += height;
  }
  pdf.fillColor('#000000');
}
