import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { csvText } from './csv';

describe('CSV for spreadsheets', () => {
  it('reads back as it was, but that no cell begins as a formula', () => {
    const cell = fc.string({
      unit: fc.constantFrom('a', '=', '+', '-', '@', '"', ',', ';', '\t', '\r\n', ' ', '1', '|', '＝'),
      maxLength: 6,
    });
    fc.assert(
      fc.property(fc.array(fc.array(cell, { minLength: 2, maxLength: 2 }), { minLength: 1, maxLength: 5 }), (rows) => {
        const back = Papa.parse<string[]>(csvText(rows).slice(1), { newline: '\r\n', delimiter: ',' }).data.slice(
          0,
          rows.length,
        );
        back.forEach((row, i) =>
          row.forEach((read, j) => {
            const wrote = rows[i]![j]!;
            expect([wrote, `'${wrote}`]).toContain(read);
            if (!/^-\d/.test(read)) expect(read.trimStart()).not.toMatch(/^[=+\-@＝]/);
          }),
        );
      }),
    );
  });

  it.each(['=1+1', '+cmd', '-2+3', '@SUM(A1)', '\t=1', ' =1', '\r=1', '＝1'])('%j is made harmless', (text) =>
    expect(csvText([[text]])).toContain("'"),
  );
  it('leaves numbers as they are', () => expect(csvText([['-2.5', '17']])).toBe('\uFEFF-2.5,17\r\n'));
});
