import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Notices, Unread } from '@contract/notices';
import type { Person } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';
import { tellStaff, tellStudents } from '.';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.runClock('2026-11-24T09:00:00Z');
});
afterAll(() => school.close());

const told = (who: 'ada' | 'ben' | 'teacher'): Promise<Notices> => school[who].must<Notices>('GET', '/my/notices');
const unread = async (who: Person): Promise<number> => (await who.must<Unread>('GET', '/my/notices/unread')).unread;
const mails = async (kind: string) => {
  const sql = `select p.login, m.subject, m.body, m.path from mail m join person p on p.school = m.school and p.id = m.person
    where m.kind = $1 order by m.made_at, p.login`;
  const { rows } = await school.pool.query<{ login: string; subject: string; body: string; path: string }>(sql, [kind]);
  return rows;
};

describe('what people are told', () => {
  it('is read by the one who was told, the latest first, and by nobody else', async () => {
    await tellStudents(school.pool, 'tarn', 'fens', [school.adaId, school.benId], 'Moss is out of 25 points now.');
    await tellStudents(school.pool, 'tarn', 'fens', [school.adaId], {
      text: 'Reed was made shorter.',
      assessment: 'reed',
    });
    expect((await told('ada')).map((n) => [n.bookTitle, n.text, n.path, n.seen])).toEqual([
      ['Fens', 'Reed was made shorter.', '/my/fens/reed', false],
      ['Fens', 'Moss is out of 25 points now.', '/my/fens', false],
    ]);
    expect(await told('ben')).toHaveLength(1);
    expect(await told('teacher')).toEqual([]);
    expect(await unread(school.ada)).toBe(2);
  });

  it('goes by mail as well, which says that there is something and never what', async () => {
    const sent = await mails('told');
    expect(sent.map((m) => m.login)).toEqual(['ada', 'ben', 'ada']);
    for (const m of sent) {
      expect(m.body).toBe('There is something new to read in Fens.');
      expect(m.subject).not.toMatch(/Moss|Reed|25/);
    }
  });

  it('is read by its own reader alone: another’s notice stays unread, whatever id is sent', async () => {
    const [ada] = await told('ada');
    await school.ben.must('PUT', '/my/notices/seen', { notices: [ada!.id, 'n-nothing'] });
    expect((await told('ada'))[0]!.seen).toBe(false);
    await school.ada.must('PUT', '/my/notices/seen', { notices: [ada!.id] });
    const { rows } = await school.pool.query<{ at: Date }>('select seen_at as at from notice where id = $1', [ada!.id]);
    // Said twice, it was read when it was read first.
    await school.ada.must('PUT', '/my/notices/seen', { notices: [ada!.id] });
    const again = await school.pool.query<{ at: Date }>('select seen_at as at from notice where id = $1', [ada!.id]);
    expect(again.rows).toEqual(rows);
    expect((await told('ada')).map((n) => n.seen)).toEqual([true, false]);
    expect(await unread(school.ada)).toBe(1);
  });

  it('reaches staff at once here, and by mail gathered, at most once an hour', async () => {
    const { rows } = await school.pool.query<{ id: string }>(`select id from person where login = 'teacher'`);
    const { rows: ada } = await school.pool.query<{ id: string }>(`select id from person where login = 'ada'`);
    const of = { school: 'tarn', book: 'fens', bookTitle: 'Fens' };
    const arrives = (text: string): Promise<void> =>
      tellStaff(school.pool, of, [rows[0]!.id], { kind: 'arrival', text, path: '/desk', writtenBy: ada[0]!.id });
    await arrives('Adler handed in Reed.');
    await arrives('Birch handed in Reed.');
    expect((await told('teacher')).map((n) => n.text)).toEqual(['Birch handed in Reed.', 'Adler handed in Reed.']);
    expect(await mails('gathered')).toEqual([]);
    await school.doJobs();
    expect((await mails('gathered')).map((m) => [m.login, m.subject])).toEqual([
      ['teacher', '2 pieces of work came in'],
    ]);
    await arrives('Crane handed in Reed.');
    await school.doJobs();
    expect(await mails('gathered')).toHaveLength(1);
    await school.pool.query(`update mail set made_at = made_at - interval '61 minutes' where kind = 'gathered'`);
    await school.doJobs();
    expect((await mails('gathered')).map((m) => m.subject)).toEqual([
      '2 pieces of work came in',
      '1 piece of work came in',
    ]);
    await school.doJobs();
    expect(await mails('gathered')).toHaveLength(2);
  });
});
