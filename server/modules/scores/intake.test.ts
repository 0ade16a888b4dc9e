import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const cell = (assessment: string, enrolment: string, version: number, points: number) => ({
  assessment,
  enrolment,
  version,
  change: { kind: 'score', points },
});
const PUT_BACK = () => ({ operation: operation(), leaveLater: false, reason: '' });
const kept = async (): Promise<unknown[]> =>
  (
    await school.pool.query(
      'select assessment, score::float as score from attempt where score is not null order by assessment, score',
    )
  ).rows;

describe('an intake', () => {
  it('is brought in whole, found among those before, and put back whole', async () => {
    const cells = [
      cell('moss', school.adaId, 0, 11),
      cell('moss', school.benId, 0, 12),
      cell('reed', school.adaId, 0, 7),
    ];
    const write = { operation: operation(), title: 'field.csv', cells };
    const made = await school.teacher.must<{ batch: string; cells: number }>('POST', '/books/fens/intake', write);
    expect(made.cells).toBe(3);
    expect(await school.teacher.must('POST', '/books/fens/intake', write)).toMatchObject({ batch: made.batch });
    expect(await kept()).toEqual([
      { assessment: 'moss', score: 11 },
      { assessment: 'moss', score: 12 },
      { assessment: 'reed', score: 7 },
    ]);
    await school.teacher.must('POST', `/books/fens/journal/${made.batch}/put-back`, PUT_BACK());
    expect(await kept()).toEqual([]);
    const again = await school.teacher.send('POST', `/books/fens/journal/${made.batch}/put-back`, PUT_BACK());
    expect([again.status, again.body['code']]).toEqual([409, 'cannot-undo']);
  });

  it('brings nothing in where one cell is stale, impossible or named twice', async () => {
    const before = await kept();
    const send = (cells: unknown[]) =>
      school.teacher.send('POST', '/books/fens/intake', { operation: operation(), title: 'x', cells });
    const stale = await send([cell('test', school.adaId, 0, 1), cell('test', school.benId, 7, 2)]);
    expect([stale.status, (stale.body['now'] as unknown[]).length]).toEqual([409, 1]);
    expect((await send([cell('test', school.adaId, 0, 1), cell('nothing', school.benId, 0, 2)])).status).toBe(400);
    expect((await send([cell('test', school.adaId, 0, 1), cell('test', school.adaId, 0, 2)])).status).toBe(400);
    expect(await kept()).toEqual(before);
  });

  it('is not put back over later changes, which are named', async () => {
    const made = await school.teacher.must<{ batch: string }>('POST', '/books/fens/intake', {
      operation: operation(),
      title: 'y',
      cells: [cell('test', school.adaId, 0, 1), cell('test', school.benId, 0, 2)],
    });
    await school.put('test', school.benId, 1, { kind: 'score', points: 3 });
    const refused = await school.teacher.send('POST', `/books/fens/journal/${made.batch}/put-back`, PUT_BACK());
    expect([refused.status, refused.body['now']]).toEqual([
      409,
      [{ seq: expect.any(Number), assessment: 'test', enrolment: school.benId }],
    ]);
    expect(await kept()).toEqual([
      { assessment: 'test', score: 1 },
      { assessment: 'test', score: 3 },
    ]);
  });
});
