import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Notices } from '@contract/notices';
import { testSchool, type TestSchool } from '../../testing/school';
import { insertNotices } from './sql';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const told = (who: 'ada' | 'ben'): Promise<Notices> => school[who].must<Notices>('GET', '/my/notices');

describe('what students are told', () => {
  it('is read by the one who was told, the latest first, and by nobody else', async () => {
    await insertNotices(school.pool, 'tarn', 'fens', [school.adaId, school.benId], 'Moss is out of 25 points now.');
    await insertNotices(school.pool, 'tarn', 'fens', [school.adaId], 'Reed was made shorter.');
    expect((await told('ada')).map((n) => [n.bookTitle, n.text, n.seen])).toEqual([
      ['Fens', 'Reed was made shorter.', false],
      ['Fens', 'Moss is out of 25 points now.', false],
    ]);
    expect(await told('ben')).toHaveLength(1);
    expect((await school.teacher.send('GET', '/my/notices')).status).toBe(403);
  });

  it('is read by its own reader alone: another’s notice stays unread, whatever id is sent', async () => {
    const [ada] = await told('ada');
    await school.ben.must('PUT', `/my/notices/${ada!.id}/seen`);
    await school.ben.must('PUT', '/my/notices/n-nothing/seen');
    expect((await told('ada'))[0]!.seen).toBe(false);
    await school.ada.must('PUT', `/my/notices/${ada!.id}/seen`);
    const { rows } = await school.pool.query<{ at: Date }>('select seen_at as at from notice where id = $1', [ada!.id]);
    // Said twice, it was read when it was read first.
    await school.ada.must('PUT', `/my/notices/${ada!.id}/seen`);
    const again = await school.pool.query<{ at: Date }>('select seen_at as at from notice where id = $1', [ada!.id]);
    expect(again.rows).toEqual(rows);
    expect((await told('ada')).map((n) => n.seen)).toEqual([true, false]);
  });
});
