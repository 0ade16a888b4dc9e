import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Sheet } from '@contract/books';
import { computeBook } from '@core/calculation/result';
import { readTable } from '@core/import/table';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.put('moss', school.adaId, 0, { kind: 'score', score: 17.25 });
  await school.put('moss', school.benId, 0, { kind: 'score', score: 9 });
  await school.put('reed', school.adaId, 0, { kind: 'score', score: 3 });
});
afterAll(() => school.close());

describe('final grades as CSV', () => {
  it('hold for every student what the ledger’s document comes to, to the last digit', async () => {
    const answer = await school.teacher.send('GET', '/books/fens/final-grades.csv');
    expect(answer.headers.get('content-type')).toMatch(/^text\/csv/);
    expect(answer.headers.get('content-disposition')).toContain('final-grades-fens.csv');
    const { document } = await school.teacher.must<Sheet>('GET', '/books/fens/sheet');
    const worked = computeBook(document).students;
    expect(worked).toHaveLength(3);
    for (const student of worked) {
      if (student.percent === null) continue;
      expect(answer.text).toContain(student.percent);
    }
    expect(answer.text).toContain('Adler');
    // A name that a spreadsheet would run as a formula is text there.
    expect(answer.text).not.toMatch(/(^|,)"?=Crane/m);
    const table = readTable(answer.text);
    expect(table.rows.length).toBeGreaterThanOrEqual(3);
  });

  it('are for the staff of the book and the office', async () => {
    for (const who of [school.reviewer, school.marker, school.office])
      expect((await who.send('GET', '/books/fens/final-grades.csv')).status).toBe(200);
    expect((await school.stranger.send('GET', '/books/fens/final-grades.csv')).status).toBe(404);
    expect((await school.ada.send('GET', '/books/fens/final-grades.csv')).status).toBe(403);
    expect((await school.teacher.send('GET', '/books/nothing/final-grades.csv')).status).toBe(404);
  });
});
