import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readTable } from '../import/table';
import { scoresCsv, type ScoresFile } from './scores';

const file = (more: Partial<ScoresFile> = {}): ScoresFile => ({
  book: 'Fens',
  term: 'Autumn',
  asOf: '24 Nov 2026 12:00',
  asMarked: false,
  leftOut: '',
  shownLabel: null,
  inAll: 2,
  columns: [
    { title: 'Moss (of 20)', isCriterion: false },
    { title: 'Reed (of 10)', isCriterion: false },
  ],
  students: [
    {
      ...{ number: 'N1', family: 'Adler', given: 'Ada', section: 'North' },
      ...{ cells: ['17.5', 'missing'], percent: '58.3', letter: 'C', shown: null },
    },
  ],
  ...more,
});

describe('scores as a file', () => {
  it('say first what they are', () => {
    expect(scoresCsv(file()).split('\r\n')).toEqual([
      '\uFEFF"Scores of Fens, Autumn: 2 assessments, 1 of 2 students, what counts, after lateness and caps, as of 24 Nov 2026 12:00. States are words."',
      'Student number,Family name,Given name,Section,Moss (of 20),Reed (of 10),Percent,Letter',
      'N1,Adler,Ada,North,17.5,missing,58.3,C',
      '',
    ]);
    const one = file({ columns: [{ title: 'Moss (of 20)', isCriterion: false }], inAll: 1, asMarked: true });
    one.students[0]!.cells = ['17.5'];
    expect(scoresCsv(one)).toContain('1 assessment, all 1 student, as marked, before lateness and caps');
    expect(scoresCsv(one)).toContain('N1,Adler,Ada,North,17.5\r\n');
  });

  it('says without which assessments percent and letter are, where names are hidden', () => {
    expect(scoresCsv(file({ leftOut: 'Soil pit' }))).toContain(
      'States are words. Percent and letter are without Soil pit, in which names are hidden.',
    );
    expect(scoresCsv(file())).not.toContain('names are hidden');
  });

  it('have the figure on the school’s own scale behind the letter, where there is one', () => {
    const students = [{ ...file().students[0]!, shown: '11.66' }];
    const [, head, row] = scoresCsv(file({ shownLabel: '/ 20', students })).split('\r\n');
    expect(head).toMatch(/,Percent,Letter,Shown \/ 20$/);
    expect(row).toMatch(/,58\.3,C,11\.66$/);
    const one = file({ shownLabel: '/ 20', columns: [{ title: 'Moss (of 20)', isCriterion: false }] });
    expect(scoresCsv(one)).not.toContain('Shown');
  });

  it('have criteria after their assessment, which are none themselves', () => {
    const columns = [...file().columns, { title: 'Reed: Depth (of 4)', isCriterion: true }];
    const students = [{ ...file().students[0]!, cells: ['17.5', 'missing', 'left out'] }];
    const [says, head, row] = scoresCsv(file({ columns, students })).split('\r\n');
    expect(says).toContain(': 2 assessments,');
    expect(head).toContain('Reed (of 10),Reed: Depth (of 4),Percent');
    expect(row).toContain('missing,left out,58.3');
  });

  it('bring every name and title back as it was, and run nowhere as a formula', () => {
    const text = fc.oneof(fc.string({ maxLength: 30 }), fc.constantFrom('=1+1', '+cmd', '-2', '@x', 'O’Dowd, "Bo"'));
    const tidy = (t: string): boolean => t.trim() === t && !/[\r\n\0\uFEFF]/.test(t);
    fc.assert(
      fc.property(text.filter(tidy), text.filter(tidy), (family, title) => {
        const out = scoresCsv(
          file({
            columns: [{ title: `${title} (of 5)`, isCriterion: false }],
            students: [{ ...file().students[0]!, family, cells: ['4'] }],
          }),
        );
        const table = readTable(out.split('\r\n').slice(1).join('\r\n'));
        const bare = (t: string): string => t.replace(/^'/, '');
        expect(bare(table.rows[0]!.cells[1] ?? '')).toBe(bare(family));
        for (const line of out.split('\r\n').slice(1))
          for (const cell of line.split(/,(?=(?:[^"]*"[^"]*")*[^"]*$)/))
            expect(/^"?\s*[=+@\t]/.test(cell) || /^"?\s*-(?!\d+(\.\d+)?"?$)/.test(cell)).toBe(false);
      }),
      // What stands in a name and a title is no delimiter.
      {
        examples: [
          ['|', '|'],
          [';', 'a;b'],
          ['a\tb', 'c\td'],
        ],
      },
    );
  });
});
