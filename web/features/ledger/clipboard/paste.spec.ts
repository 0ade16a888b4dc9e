import { planPaste, readClipboard, toClipboard, type PasteTarget } from './paste';

const target = (row: number, column: number, now = ''): PasteTarget => ({
  version: 0,
  student: `s${row}`,
  item: `i${column}`,
  points: 20,
  marks: [],
  now,
});
const anywhere = (row: number, column: number): PasteTarget => target(row, column);
const one = { rows: 1, columns: 1 };
const kinds = (block: string[][], now: string): string[] =>
  planPaste(block, one, (r, c) => target(r, c, now)).cells.map((c) => c.kind);

describe('the clipboard', () => {
  it('goes to a spreadsheet and back', async () => {
    const rows = [
      ['17.5', 'excused', ''],
      ['two\nlines', 'a\ttab', 'say "so"'],
    ];
    expect(await readClipboard(toClipboard(rows))).toEqual(rows);
    expect(await readClipboard('1\t2\r\n3\t4\r\n')).toEqual([
      ['1', '2'],
      ['3', '4'],
    ]);
    expect(await readClipboard('')).toEqual([]);
  });

  it('gives nothing that a spreadsheet would work out', () =>
    expect(toClipboard([['=1+1', '+cmd', '@x', '-4', '-x']])).toBe("'=1+1\t'+cmd\t'@x\t-4\t'-x"));
});

describe('a paste', () => {
  it('tells new from overwriting, the same, too much and not readable', () => {
    expect(kinds([['12']], '')).toEqual(['new']);
    expect(kinds([['12']], '13')).toEqual(['overwrites']);
    expect(kinds([['12,0']], '12')).toEqual(['same']);
    expect(kinds([['excused']], 'excused')).toEqual(['same']);
    expect(kinds([['21']], '')).toEqual(['above']);
    expect(kinds([['9..']], '')).toEqual(['refused']);
    expect(kinds([['0']], '')).toEqual(['new']);
  });

  it('is clear only where nothing is in doubt or lost', () => {
    expect(planPaste([['12', '85%']], one, anywhere).clear).toBe(true);
    expect(planPaste([['12', 'x']], one, anywhere).clear).toBe(false);
    const edge = planPaste([['12', '13']], one, (r, c) => (c === 0 ? target(r, c) : null));
    expect([edge.clear, edge.beyond, edge.cells.length]).toEqual([false, 1, 1]);
  });

  it('takes nothing away by a blank, and takes rows of different lengths', () => {
    const plan = planPaste([['12', '', '13'], ['14']], one, anywhere);
    expect(plan.cells.map((c) => [c.target.student, c.target.item, c.text])).toEqual([
      ['s0', 'i0', '12'],
      ['s0', 'i2', '13'],
      ['s1', 'i0', '14'],
    ]);
  });

  it('fills a selection with one value, and repeats a block where it fits', () => {
    expect(planPaste([['9']], { rows: 3, columns: 2 }, anywhere).cells).toHaveLength(6);
    const twice = planPaste([['1'], ['2']], { rows: 4, columns: 1 }, anywhere);
    expect(twice.cells.map((c) => c.text)).toEqual(['1', '2', '1', '2']);
    // Three rows hold no whole number of twos: the block lies once.
    expect(planPaste([['1'], ['2']], { rows: 3, columns: 1 }, anywhere).cells).toHaveLength(2);
  });
});
