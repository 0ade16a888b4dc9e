import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { csvText } from '../export/csv';
import { checkRubric } from './check-rubric';
import type { Rubric } from './document';
import { readRubricTable, rubricTable } from './table';

let made = 0;
const newId = (): string => `n${++made}`;
const read = (text: string): Rubric => {
  const found = readRubricTable(text, newId);
  if (typeof found === 'string') throw new Error(found);
  return found.rubric;
};
const bare = (r: Rubric) =>
  r.criteria.map((c) => [c.title, ...c.levels.map((l) => `${l.points}${l.words ? ` ${l.words}` : ''}`)]);

describe('a table pasted from a spreadsheet', () => {
  it('has its points in the row of headings, and levels in any order', () => {
    const text = 'Criteria\t4 points\t2 points\t0\nDrawing\tall named\tsome, 3 horizons\tnone\nMeasures\tall\t\tnone';
    expect(bare(read(text))).toEqual([
      ['Drawing', '0 none', '2 some, 3 horizons', '4 all named'],
      ['Measures', '0 none', '2', '4 all'],
    ]);
  });
  it('may have a blank cell above the titles', () => {
    for (const text of ['\t0\t5\nFeel\tnone\tnamed', '0\t5\nFeel\tnone\tnamed'])
      expect(bare(read(text))).toEqual([['Feel', '0 none', '5 named']]);
  });
  it('has points before the words, behind them in brackets, or alone', () => {
    expect(bare(read('Drawing;1 - poor;2,5: fair;4 pts clear\nReading;none (0);argued (3 points);6'))).toEqual([
      ['Drawing', '1 poor', '2.5 fair', '4 clear'],
      ['Reading', '0 none', '3 argued', '6'],
    ]);
  });
  it('takes words with numbers in them for words', () => {
    const found = readRubricTable('Scale\tdrawn 1:100\t3 horizons named\t110 cm deep', newId);
    expect(found).toMatchObject({ notes: ['Levels without points were counted 1, 2, 3 from the left.'] });
    expect(bare((found as { rubric: Rubric }).rubric)).toEqual([
      ['Scale', '1 drawn 1:100', '2 3 horizons named', '3 110 cm deep'],
    ]);
  });
  it('that is none says so', () => {
    for (const [text, says] of [
      ['', 'no table'],
      ['   \n\n', 'no table'],
      ['Drawing\nReading', 'no levels'],
      [`A${'\t1'.repeat(10)}`, '9 at most'],
      ['Criterion,Words,Stands,Weight,Step,Points 1,Level 1\nA,,often,,,1,x', 'none of counts'],
      ['Criterion,Words,Stands,Weight,Step,Points 1,Level 1\nA,,,,,much,x', 'no points'],
      ['Criterion,Words,Stands,Weight,Step,Points 1,Level 1\nA,,,heavy,,1,x', 'no number'],
      ['x\t'.repeat(60), 'more rows or columns'],
    ] as const)
      expect(readRubricTable(text, newId)).toContain(says);
  });
  it('costs a sentence or a rubric, whatever it is', () => {
    const cell = fc.oneof(fc.string({ maxLength: 8 }), fc.constantFrom('1', '2 p', '=1+1', "'-x", '"', '3)', '1e9'));
    fc.assert(
      fc.property(fc.array(fc.array(cell, { maxLength: 6 }), { maxLength: 6 }), (rows) => {
        const found = readRubricTable(rows.map((r) => r.join('\t')).join('\n'), newId);
        if (typeof found === 'string') expect(found).toMatch(/\.$/);
        else
          for (const c of found.rubric.criteria) for (const l of c.levels) expect(l.points).toBeGreaterThanOrEqual(0);
      }),
    );
  });
});

describe('a rubric as a table', () => {
  const words = fc
    .string({ unit: fc.constantFrom('a', 'ö', ' ', ',', '"', '\n', '=', '-', '7', "'"), maxLength: 12 })
    .map((t) => t.replace(/^['\s]+/, '').trim());
  const amount = fc.integer({ min: 0, max: 90_000 }).map((n) => n / 1000);
  const rubrics = fc.boolean().chain((weighted) =>
    fc
      .array(
        fc.record({
          title: words.map((t) => `T${t}`),
          words,
          stands: fc.constantFrom('counts' as const, 'bonus' as const, 'shown' as const),
          levels: fc.uniqueArray(amount, { minLength: 1, maxLength: 9 }),
          weight: amount,
          step: fc.option(amount),
        }),
        { minLength: 1, maxLength: 5 },
      )
      .chain((all) => fc.tuple(fc.constant(all), fc.array(words, { minLength: 9, maxLength: 9 })))
      .map(([all, said]): Rubric => ({
        by: weighted ? 'weights' : 'points',
        criteria: all.map((c) => ({
          ...{ id: newId(), title: c.title, stands: c.stands },
          ...(c.words ? { words: c.words } : {}),
          ...(weighted ? { weight: c.weight } : {}),
          ...(c.step === null ? {} : { step: c.step }),
          levels: [...c.levels].sort((a, b) => a - b).map((points, i) => ({ id: newId(), points, words: said[i]! })),
        })),
      })),
  );
  const withoutIds = (r: Rubric) => ({
    by: r.by,
    criteria: r.criteria.map(({ id: _, ...c }) => ({ ...c, levels: c.levels.map(({ id: _l, ...l }) => l) })),
  });
  it('is read again without loss, also from a file for spreadsheets', () => {
    fc.assert(
      fc.property(rubrics, (rubric) => {
        expect(withoutIds(read(csvText(rubricTable(rubric))))).toEqual(withoutIds(rubric));
      }),
    );
  });
  it('gives what can be marked by, where what it was made of could be', () => {
    fc.assert(
      fc.property(rubrics, (rubric) => {
        expect(checkRubric(read(csvText(rubricTable(rubric)))).map((p) => p.pointer)).toEqual(
          checkRubric(rubric).map((p) => p.pointer),
        );
      }),
    );
  });
});
