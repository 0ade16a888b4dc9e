import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Roster, type RosterStudent } from './match';
import { guessColumns, reconcile, splitHeading } from './reconcile';
import { leftOutCsv, shownPreview, summarizeTable } from './shown-preview';
import { decode, readTable } from './table';
import { completions, readTyped } from './typed';

const context = { points: 20, marks: ['Pass', 'Fail'] };
const score = (text: string, more = {}) => readTyped(text, { ...context, ...more });
const students: RosterStudent[] = [
  { id: 's1', number: 'BC1', family: 'O’Dowd', given: 'Björn', mail: 'odowd@x.example' },
  { id: 's2', number: 'BC2', family: 'Marsh', given: 'Idris', mail: '' },
  { id: 's3', number: 'BC3', family: 'Marsh', given: 'Idris', mail: '' },
];
const targets = [
  { id: 'moss', title: 'Moss', points: 20, marks: [] },
  { id: 'reed', title: 'Reed bed', points: 10, marks: [] },
];

describe('what is typed', () => {
  it.each([
    ['17', 17],
    ['17,5', 17.5],
    ['.5', 0.5],
    ['85%', 17],
    ['85 %', 17],
    ['17/20', 17],
    ['3/7', 8.5714],
    ['１２', 12],
    ['  9 ', 9],
  ])('%s is a score', (text, points) =>
    expect(score(text)).toMatchObject({ kind: 'change', change: { kind: 'score', points } }),
  );

  it.each(['-3', '1e3', '1 8.5', '7..5', '12.34567', '5/0', 'NaN', 'x', '1,000,5', '99999999999', '%', '/', '=1+1'])(
    '%s never turns into a number',
    (text) => expect(score(text)).toMatchObject({ kind: 'refused' }),
  );

  it('is never anything but a sound score, a state, a mark, a blank or a refusal', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 12 }), (text) => {
        const read = readTyped(text, context);
        if (read.kind !== 'change' || read.change.kind !== 'score') return;
        expect(read.change.points).toBeGreaterThanOrEqual(0);
        expect(Math.round(read.change.points * 10_000) / 10_000).toBe(read.change.points);
      }),
    );
  });

  it('completes states and marks, and asks where both could be meant', () => {
    expect([
      completions('ex', []),
      completions('m', []),
      completions('mi', ['Mild']),
      completions('p', context.marks),
    ]).toEqual([['excused'], [], ['Mild', 'missing'], ['Pass']]);
    expect(score('exc')).toMatchObject({ change: { kind: 'state', state: 'excused' } });
    expect(readTyped('mi', { points: 1, marks: ['Mild'] })).toMatchObject({ kind: 'refused' });
    expect(score('pass')).toMatchObject({ change: { kind: 'mark', label: 'Pass' } });
    expect(score('21')).toMatchObject({ above: true });
    expect(score('27', { outOf: 30 })).toMatchObject({ change: { points: 18 } });
  });
});

describe('a table', () => {
  it.each([',', ';', '\t', '|'])('is read with %j between its cells, quotes and all', (d) => {
    const cell = fc
      .string({ unit: fc.constantFrom('a', 'é', '"', d, '7', ' x'), minLength: 1, maxLength: 6 })
      .map((s) => s.trim() || 'a');
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, fc.integer({ min: 0, max: 99 })), { minLength: 2, maxLength: 8 }), (rows) => {
        const text = [`Name${d}Score`, ...rows.map(([n, s]) => `"${n.replaceAll('"', '""')}"${d}${s}`)].join('\r\n');
        const table = readTable(text);
        expect(table.headings).toEqual(['Name', 'Score']);
        expect(table.rows.map((r) => r.cells)).toEqual(rows.map(([n, s]) => [n, String(s)]));
      }),
    );
  });

  it('is found below title lines, and may have no headings', () => {
    expect(readTable('Field checks;;\n\nStudent;Moss;Reed\nBC1;1;2\nBC2;3;4\n')).toMatchObject({
      headerRow: 2,
      headings: ['Student', 'Moss', 'Reed'],
    });
    expect(readTable('BC1;1,5\nBC2;3,25\n')).toMatchObject({
      headerRow: -1,
      decimalComma: true,
      rows: [{ line: 1 }, { line: 2 }],
    });
    expect(readTable('').rows).toEqual([]);
  });

  it('is decoded by its bytes: UTF-8, with or without its mark, else Windows-1252', () => {
    const utf8 = new TextEncoder().encode('Björn – 5');
    expect(decode(utf8)).toEqual({ text: 'Björn – 5', encoding: 'UTF-8' });
    expect(decode(Uint8Array.of(0x42, 0x6a, 0xf6, 0x72, 0x6e, 0x20, 0x96))).toEqual({
      text: 'Björn –',
      encoding: 'Windows-1252',
    });
    expect(decode(Uint8Array.of(0xff, 0xfe, 0x41, 0)).text.replace('\uFEFF', '')).toBe('A');
  });

  it('reads what a heading says a column is out of', () => {
    expect(['Moss /30', 'Moss (30)', 'Moss (out of 12,5)', 'Moss', '/30'].map((h) => splitHeading(h).outOf)).toEqual([
      30,
      30,
      12.5,
      null,
      null,
    ]);
  });
});

describe('reconciling', () => {
  it('finds students by number, mail or name, whatever accents and case, and says when a name is not one', () => {
    const roster = new Roster(students);
    expect(['bc1', 'ODOWD@x.example', 'bjorn o’dowd', 'O’DOWD, BJÖRN'].map((w) => roster.find(w))).toMatchObject(
      Array(4).fill({ kind: 'found', id: 's1' }),
    );
    expect(roster.find('Marsh, Idris')).toMatchObject({ kind: 'several' });
    expect(roster.find('nobody')).toEqual({ kind: 'none' });
  });

  it('gives every row and cell its fate, and a blank never overwrites', () => {
    const table = readTable(
      'Student;Moss /40;Reed bed\nBC1;30;5\nBC2;;7\nBC2;1;1\nBC9;1;1\nMarsh, Idris;1;1\nBC3;x;5\n',
    );
    const columns = guessColumns(table, students, targets);
    expect(columns).toEqual({
      student: 0,
      scores: [
        { column: 1, target: 'moss', outOf: 40 },
        { column: 2, target: 'reed', outOf: null },
      ],
    });
    const now = (student: string, item: string) =>
      student === 's1' && item === 'moss'
        ? { attempts: [{ score: 15 }] }
        : student === 's2'
          ? { attempts: [{ score: 4 }] }
          : {};
    const { rows, counts } = reconcile(table, columns, students, targets, now);
    expect(rows.map((r) => r.refused ?? r.cells.map((c) => c.kind).join(' '))).toEqual([
      'same new',
      'blank changed',
      'Row 3 is for the same student; only the first is used.',
      'Nobody in this book has this number, mail address or name.',
      '2 students have the name “Marsh, Idris”; use the student number.',
      'refused new',
    ]);
    expect(counts).toEqual({ rows: 6, new: 2, changed: 1, same: 1, blank: 1, refused: 2, unmatched: 2 });
  });
});

describe('a file of more rows than anybody has students', () => {
  it('is read to its end, whatever its rows', () => {
    const rows = 130_000;
    const text = `Number,Moss\n${Array.from({ length: rows }, (_, i) => `BC${i % 3},${i % 20}`).join('\n')}`;
    const table = readTable(text);
    const columns = guessColumns(table, students, targets);
    expect(reconcile(table, columns, students, targets, () => ({})).rows).toHaveLength(rows);
  });
});

describe('a preview as a page shows it', () => {
  const rows = 3_000;
  const text = ['Number,Moss', 'BC1,9', 'BC2,x', ...Array.from({ length: rows }, (_, n) => `=X${n},${n}`)].join('\n');
  const table = readTable(text);
  const columns = guessColumns(table, students, targets);
  const preview = reconcile(table, columns, students, targets, () => ({}));
  const shown = shownPreview(preview, columns);

  it('holds the first rows of each kind, says of which there are more, and all that would be brought in', () => {
    expect(summarizeTable(table)).toMatchObject({ rows: rows + 2, width: 2, samples: [['BC1', '9'], ['BC2', 'x'], ['=X0', '0']] }); // prettier-ignore
    expect(summarizeTable(table)).not.toHaveProperty('rows.0');
    expect(shown.cut).toEqual([{ kind: 'left out', shown: 1_000, of: rows + 1 }]);
    expect(shown.rows).toHaveLength(1_001);
    expect(shown.rows[0]!.who).toBe('BC2');
    expect(shown.rows.at(-1)!.who).toBe('BC1');
    expect(shown.bring).toEqual([{ student: 's1', target: 'moss', change: { kind: 'score', points: 9 } }]);
    expect(shown.counts).toBe(preview.counts);
  });

  it('gives what is left out as a file, whole, with each reason, and nothing in it that a spreadsheet works out', () => {
    const lines = leftOutCsv(table, preview).split('\r\n');
    expect(lines).toHaveLength(rows + 3);
    expect(lines[0]).toBe('\uFEFFRow,Why it is left out,Number,Moss');
    expect(lines[1]).toMatch(/^3,"“x” is not a score.*",BC2,x$/);
    expect(lines[2]).toBe(`4,"Nobody in this book has this number, mail address or name.","'=X0",0`);
  });
});
