import Papa from 'papaparse';

/** A file or paste as rows of text cells, and how it was read. */
export interface Table {
  delimiter: string;
  /** The row of the headings, counted from 0, or -1 where there is none. */
  headerRow: number;
  headings: string[];
  /** The rows below the headings, each with its line in the source counted from 1. */
  rows: { line: number; cells: string[] }[];
  decimalComma: boolean;
  encoding: 'UTF-8' | 'Windows-1252' | 'UTF-16' | 'typed';
  problems: string[];
}

export const MOST_ROWS = 200_000;

/** Decodes bytes: UTF-16 and UTF-8 by mark, UTF-8 where every byte fits, else Windows-1252 (a superset of Latin-1). */
export function decode(bytes: Uint8Array): { text: string; encoding: Table['encoding'] } {
  if (bytes[0] === 0xff && bytes[1] === 0xfe)
    return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
  if (bytes[0] === 0xfe && bytes[1] === 0xff)
    return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'UTF-8' };
  } catch {
    return { text: windows1252(bytes), encoding: 'Windows-1252' };
  }
}

/** What Windows-1252 has where Latin-1 has control characters, from 0x80 on; some engines decode it as Latin-1. */
const HIGH = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';

function windows1252(bytes: Uint8Array): string {
  const parts: string[] = [];
  for (let at = 0; at < bytes.length; at += 8192) parts.push(String.fromCharCode(...bytes.subarray(at, at + 8192)));
  return parts.join('').replace(/[\u0080-\u009f]/g, (c) => HIGH[c.charCodeAt(0) - 0x80]!);
}

/** Reads delimited text with any of comma, semicolon, tab or bar, and finds its row of headings. */
export function readTable(text: string, encoding: Table['encoding'] = 'typed'): Table {
  const clean = text.replace(/^\uFEFF/, '');
  const problems: string[] = [];
  const delimiter = guessDelimiter(clean);
  const parsed = Papa.parse<string[]>(clean, { delimiter, skipEmptyLines: false });
  for (const e of parsed.errors.slice(0, 3))
    if (e.type === 'Quotes') problems.push(`Row ${(e.row ?? 0) + 1}: a quotation mark is not closed.`);
  let all = parsed.data.map((cells, i) => ({ line: i + 1, cells: cells.map((c) => c.trim()) }));
  if (all.length > MOST_ROWS) {
    problems.push(`The file has ${all.length} rows; the first ${MOST_ROWS} are read.`);
    all = all.slice(0, MOST_ROWS);
  }
  const filled = all.filter((r) => r.cells.some((c) => c !== ''));
  const at = findHeader(filled.map((r) => r.cells));
  const headings = at < 0 ? [] : filled[at]!.cells;
  const rows = filled.slice(at + 1);
  return {
    delimiter,
    headerRow: at < 0 ? -1 : filled[at]!.line - 1,
    headings,
    rows,
    decimalComma: rows.some((r) => r.cells.some((c) => /^\d+,\d+$/.test(c))),
    encoding,
    problems,
  };
}

/** The delimiter that splits most of the first lines into the same number of cells, more than one. */
function guessDelimiter(text: string): string {
  const sample = text
    .split(/\r?\n/)
    .filter((l) => l.trim() !== '')
    .slice(0, 40)
    .join('\n');
  const widthsBy = (delimiter: string): number[] =>
    Papa.parse<string[]>(sample, { delimiter }).data.map((r) => r.length);
  const byComma = mostCommon(widthsBy(','));
  let best = { delimiter: ',', worth: 0 };
  for (const delimiter of ['\t', ';', ',', '|']) {
    const widths = widthsBy(delimiter);
    const common = mostCommon(widths);
    if (common < 2) continue;
    // Commas stand in names and figures too. But where they make more than twice the cells, the other is what stands in a name.
    const favour = delimiter === ',' ? 0 : common * 2 < byComma ? -0.05 : 0.05;
    const worth = widths.filter((w) => w === common).length / widths.length + favour;
    if (worth > best.worth) best = { delimiter, worth };
  }
  return best.delimiter;
}

function mostCommon(values: number[]): number {
  const counts = new Map<number, number>();
  for (const v of values) counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0] ?? 0;
}

const NUMERIC = /^[\d.,%/\s-]+$/;

/** The first row as wide as most, all of whose filled cells are words, with numbers somewhere below. -1: none. */
function findHeader(rows: string[][]): number {
  const width = mostCommon(rows.map((r) => r.filter((c) => c !== '').length));
  for (let i = 0; i < Math.min(rows.length, 30); i++) {
    const filled = rows[i]!.filter((c) => c !== '');
    if (filled.length < Math.max(2, Math.min(width, rows[i]!.length) - 1)) continue;
    if (filled.some((c) => NUMERIC.test(c))) return -1;
    return i;
  }
  return -1;
}
