import { MOST, type ReadSheets } from './model';
import { readXml } from './read-xml';
import { textOf, unpack } from './unpack';

/** Rows as they are filled, cut where they are more than is shown. */
class Rows {
  readonly rows: string[][] = [];
  cut = false;

  put(row: number, column: number, text: string): void {
    if (text === '') return;
    if (row >= MOST.rows || column >= MOST.columns) {
      this.cut = true;
      return;
    }
    while (this.rows.length <= row) this.rows.push([]);
    const cells = this.rows[row]!;
    while (cells.length < column) cells.push('');
    cells[column] = text;
  }
}

/** An OpenDocument spreadsheet: what its cells show. */
export function readOds(bytes: Uint8Array): ReadSheets {
  const content = textOf(unpack(bytes, (n) => n === 'content.xml'), 'content.xml'); // prettier-ignore
  if (content === '') throw new Error('There is no content in it.');
  const sheets: ReadSheets['sheets'] = [];
  let cut = false;
  let rows = new Rows();
  let [name, row, column, rowTimes, cellTimes, text, inCell] = ['', 0, 0, 1, 1, '', false];
  readXml(content, {
    open(tag, a) {
      if (tag === 'table:table') {
        rows = new Rows();
        [name, row] = [a['table:name'] ?? '', 0];
      } else if (tag === 'table:table-row') {
        rowTimes = Math.max(1, Number(a['table:number-rows-repeated'] ?? 1) || 1);
        column = 0;
      } else if (tag === 'table:table-cell' || tag === 'table:covered-table-cell') {
        cellTimes = Math.max(1, Number(a['table:number-columns-repeated'] ?? 1) || 1);
        [text, inCell] = ['', true];
      } else if (tag === 'text:p' && text !== '') text += '\n';
    },
    text(t) {
      if (inCell) text += t;
    },
    close(tag) {
      if (tag === 'table:table-cell' || tag === 'table:covered-table-cell') {
        const shown = text.trim();
        // Repeated over the whole sheet stands what is empty.
        for (let r = 0; r < Math.min(rowTimes, MOST.rows) && shown !== ''; r++)
          for (let c = 0; c < Math.min(cellTimes, MOST.columns); c++) rows.put(row + r, column + c, shown);
        column += cellTimes;
        inCell = false;
      } else if (tag === 'table:table-row') row += rowTimes;
      else if (tag === 'table:table') {
        if (sheets.length < MOST.sheets) sheets.push({ name, rows: rows.rows, cut: rows.cut });
        else cut = true;
      }
    },
  });
  return { kind: 'sheets', sheets, cut };
}

/** "AB12" as a row and a column from 0. */
function placeOf(reference: string): [number, number] | null {
  const m = /^([A-Z]{1,3})(\d{1,7})$/.exec(reference);
  if (!m) return null;
  let column = 0;
  for (const letter of m[1]!) column = column * 26 + letter.charCodeAt(0) - 64;
  return [Number(m[2]) - 1, column - 1];
}

/** Numbers of the formats that every workbook has for days and times. */
const DATES = new Set([14, 15, 16, 17, 22, 27, 30, 36, 50, 57]);
const DAY = 86_400_000;

/** An Office Open XML workbook: what its cells hold, days as days. */
export function readXlsx(bytes: Uint8Array): ReadSheets {
  const pieces = unpack(bytes, (n) => /^xl\/(workbook|sharedStrings|styles|worksheets\/[^/]+)\.xml$|^xl\/_rels\//.test(n)); // prettier-ignore
  const targets = new Map<string, string>();
  readXml(textOf(pieces, 'xl/_rels/workbook.xml.rels'), {
    open: (_tag, a) => targets.set(a['Id'] ?? '', (a['Target'] ?? '').replace(/^\/?(xl\/)?/, '')),
  });
  const shared = sharedStrings(textOf(pieces, 'xl/sharedStrings.xml'));
  const dated = datedStyles(textOf(pieces, 'xl/styles.xml'));
  const sheets: ReadSheets['sheets'] = [];
  let cut = false;
  readXml(textOf(pieces, 'xl/workbook.xml'), {
    open(tag, a) {
      if (tag !== 'sheet') return;
      if (sheets.length >= MOST.sheets) {
        cut = true;
        return;
      }
      const xml = textOf(pieces, `xl/${targets.get(a['r:id'] ?? '') ?? ''}`);
      if (xml !== '') sheets.push({ name: a['name'] ?? '', ...sheetRows(xml, shared, dated) });
    },
  });
  if (sheets.length === 0) throw new Error('There is no sheet in it.');
  return { kind: 'sheets', sheets, cut };
}

function sharedStrings(xml: string): string[] {
  const strings: string[] = [];
  let [text, inText, aside] = ['', false, false];
  if (xml !== '')
    readXml(xml, {
      open(tag) {
        if (tag === 'si') text = '';
        // How it is pronounced is no part of it.
        if (tag === 'rPh') aside = true;
        inText = tag === 't' && !aside;
      },
      text(t) {
        if (inText) text += t;
      },
      close(tag) {
        if (tag === 't') inText = false;
        if (tag === 'rPh') aside = false;
        if (tag === 'si') strings.push(text);
      },
    });
  return strings;
}

/** By the number of a cell's style: whether its number is a day. */
function datedStyles(xml: string): boolean[] {
  const own = new Map<number, boolean>();
  const dated: boolean[] = [];
  let within = false;
  if (xml !== '')
    readXml(xml, {
      open(tag, a) {
        if (tag === 'numFmt') {
          const code = (a['formatCode'] ?? '').replace(/"[^"]*"|\[[^\]]*\]|\\./g, '');
          own.set(Number(a['numFmtId']), /[dmyh]/i.test(code));
        }
        if (tag === 'cellXfs') within = true;
        if (tag === 'xf' && within) {
          const id = Number(a['numFmtId'] ?? 0);
          dated.push(own.get(id) ?? DATES.has(id));
        }
      },
      close(tag) {
        if (tag === 'cellXfs') within = false;
      },
    });
  return dated;
}

/** A day as a workbook counts it, from 30 December 1899, as 2026-11-24, with its time where it has one. */
function dayOf(serial: number): string {
  const at = new Date(Math.round(serial * DAY) + Date.UTC(1899, 11, 30));
  if (Number.isNaN(at.getTime())) return String(serial);
  const text = at.toISOString();
  if (serial < 1) return text.slice(11, 16);
  return serial % 1 === 0 ? text.slice(0, 10) : `${text.slice(0, 10)} ${text.slice(11, 16)}`;
}

function sheetRows(
  xml: string,
  shared: readonly string[],
  dated: readonly boolean[],
): { rows: string[][]; cut: boolean } {
  const rows = new Rows();
  let [row, column, type, style, value, reads] = [-1, -1, '', 0, '', false];
  readXml(xml, {
    open(tag, a) {
      if (tag === 'row') {
        row = a['r'] ? Number(a['r']) - 1 : row + 1;
        column = -1;
      } else if (tag === 'c') {
        [row, column] = placeOf(a['r'] ?? '') ?? [row, column + 1];
        [type, style, value] = [a['t'] ?? 'n', Number(a['s'] ?? 0), ''];
      } else reads = tag === 'v' || tag === 't';
    },
    text(t) {
      if (reads) value += t;
    },
    close(tag) {
      if (tag === 'v' || tag === 't') reads = false;
      if (tag === 'c') rows.put(row, column, shown(type, style, value));
    },
  });
  return { rows: rows.rows, cut: rows.cut };

  function shown(t: string, s: number, v: string): string {
    if (t === 's') return shared[Number(v)] ?? '';
    if (t === 'b') return v === '1' ? 'true' : 'false';
    if (t === 'n' && v !== '') {
      const number = Number(v);
      if (!Number.isFinite(number)) return v;
      // Fifteen figures are what a workbook itself shows of a number.
      return dated[s] ? dayOf(number) : String(Number(number.toPrecision(15)));
    }
    return v;
  }
}
