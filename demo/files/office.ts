import { strToU8, zipSync } from 'fflate';

/** All files of an archive carry one date, so that the same words give the same bytes. */
const MADE = new Date('2026-11-01T12:00:00Z');

function packed(files: Record<string, string>): Buffer {
  const entries = Object.entries(files).map(([name, text]) => [name, [strToU8(text), { mtime: MADE, level: name === 'mimetype' ? 0 : 6 }]] as const); // prettier-ignore
  return Buffer.from(zipSync(Object.fromEntries(entries) as never));
}

const XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

/** A word-processor document as Office Open XML: a title, paragraphs and a table. */
export function docx(title: string, paragraphs: readonly string[], table: readonly string[][]): Buffer {
  const run = (text: string, style = ''): string =>
    `<w:p>${style ? `<w:pPr><w:pStyle w:val="${style}"/></w:pPr>` : ''}<w:r><w:t xml:space="preserve">${escaped(text)}</w:t></w:r></w:p>`;
  const cells = table.map((row) => `<w:tr>${row.map((c) => `<w:tc><w:p><w:r><w:t>${escaped(c)}</w:t></w:r></w:p></w:tc>`).join('')}</w:tr>`); // prettier-ignore
  return packed({
    '[Content_Types].xml': `${XML}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/></Types>`,
    '_rels/.rels': `${XML}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>`,
    'word/document.xml': `${XML}<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>${run(title, 'Title')}${paragraphs.map((p) => run(p)).join('')}<w:tbl>${cells.join('')}</w:tbl></w:body></w:document>`,
  });
}

/** The same as OpenDocument text. */
export function odt(title: string, paragraphs: readonly string[]): Buffer {
  const names =
    'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"';
  return packed({
    mimetype: 'application/vnd.oasis.opendocument.text',
    'META-INF/manifest.xml': `${XML}<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"><manifest:file-entry manifest:full-path="/" manifest:media-type="application/vnd.oasis.opendocument.text"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>`,
    'content.xml': `${XML}<office:document-content ${names} office:version="1.3"><office:body><office:text><text:h text:outline-level="1">${escaped(title)}</text:h>${paragraphs.map((p) => `<text:p>${escaped(p)}</text:p>`).join('')}</office:text></office:body></office:document-content>`,
  });
}

/** A workbook of one sheet. */
export function xlsx(rows: readonly string[][]): Buffer {
  const cell = (text: string): string =>
    /^-?\d+(\.\d+)?$/.test(text) ? `<c><v>${text}</v></c>` : `<c t="inlineStr"><is><t>${escaped(text)}</t></is></c>`;
  return packed({
    '[Content_Types].xml': `${XML}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/></Types>`,
    '_rels/.rels': `${XML}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/_rels/workbook.xml.rels': `${XML}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
    'xl/workbook.xml': `${XML}<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="Readings" sheetId="1" r:id="rId1"/></sheets></workbook>`,
    'xl/worksheets/sheet1.xml': `${XML}<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>${rows.map((r) => `<row>${r.map(cell).join('')}</row>`).join('')}</sheetData></worksheet>`,
  });
}
