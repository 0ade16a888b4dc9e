import { describe, expect, it } from 'vitest';
import type { Rubric } from '@core/rubric/document';
import { readRubricFile, rubricFileText } from './rubric-file';

const newId = (): string => 'made';
const PIT: Rubric = {
  by: 'points',
  scaled: true,
  criteria: [
    { id: 'a', title: 'Drawing', words: 'Of the pit', stands: 'bonus', step: 0.5, levels: [{ id: 'l', points: 4, words: 'named' }] }, // prettier-ignore
  ],
};

describe('a rubric as a file', () => {
  it('is read again without loss, ids too', () => {
    expect(readRubricFile(rubricFileText(PIT), newId)).toEqual({ rubric: PIT, notes: [] });
    expect(readRubricFile(`\uFEFF${rubricFileText(PIT)}`, newId)).toEqual({ rubric: PIT, notes: [] });
  });
  it('that is a table is read as one', () => {
    expect(readRubricFile('Drawing,1 p none,2 p all', newId)).toMatchObject({ rubric: { by: 'points' } });
  });
  it('that is none costs a sentence', () => {
    const file = (more: object): string =>
      JSON.stringify({ format: 'last-tally-rubric', version: 1, by: 'points', ...more });
    const criterion = PIT.criteria[0]!;
    for (const [text, says] of [
      ['{ "format": ', 'no whole JSON'],
      ['{}', 'no rubric of Last Tally'],
      ['{"format":"last-tally-rubric","version":2,"criteria":[]}', 'no rubric of Last Tally'],
      [file({ criteria: [null] }), 'Criterion 1'],
      [file({ criteria: [{ ...criterion, id: '../x' }] }), 'Criterion 1'],
      [file({ criteria: [{ ...criterion, levels: [{ id: 'l', points: '4', words: '' }] }] }), 'Criterion 1'],
      [file({ criteria: [{ ...criterion, title: 'x'.repeat(201) }] }), 'Criterion 1'],
      [file({ criteria: Array(41).fill(criterion) }), '40 criteria at most'],
    ] as const)
      expect(readRubricFile(text, newId)).toContain(says);
  });
});
