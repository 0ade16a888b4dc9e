import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { SavedView, StudentGroup } from '@contract/groups';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const group = (id: string): string => `/books/fens/groups/${id}`;
const view = (id: string): string => `/books/fens/views/${id}`;

describe('groups of students', () => {
  it('belong to the book: what one makes, the others change on the version they saw, each change a line', async () => {
    const wish = { operation: operation(), version: 0, title: 'Boat crew', members: [school.adaId, school.benId] };
    const [made] = await school.marker.must<StudentGroup[]>('PUT', group('boat'), wish);
    expect(made).toEqual({ id: 'boat', title: 'Boat crew', version: 1, members: expect.arrayContaining(wish.members) });
    // After a lost answer it is sent once more, and nothing is made twice.
    await school.marker.send('PUT', group('boat'), wish);
    const lines = await school.pool.query(`select seq from journal where book = 'fens' and kind like '%group%'`);
    expect(lines.rowCount).toBe(1);

    const changed = await school.teacher.must<StudentGroup[]>('PUT', group('boat'), {
      operation: operation(),
      version: 1,
      title: 'Boat crew',
      members: [school.adaId],
    });
    expect(changed[0]).toMatchObject({ version: 2, members: [school.adaId] });
    const stale = await school.coTeacher.send('PUT', group('boat'), {
      operation: operation(),
      version: 1,
      title: 'Shore crew',
      members: [],
    });
    expect([stale.status, stale.body['code']]).toEqual([409, 'stale']);

    const gone = await school.teacher.must<StudentGroup[]>('DELETE', group('boat'), {
      operation: operation(),
      version: 2,
    });
    expect(gone).toEqual([]);
  });

  it('are refused with nobody’s student in them, with an odd id, and from who may not score', async () => {
    const wish = (members: string[]) => ({ operation: operation(), version: 0, title: 'Odd', members });
    const outsider = await school.pool.query<{ id: string }>(`select id from enrolment where book = 'hills'`);
    expect((await school.teacher.send('PUT', group('odd'), wish([outsider.rows[0]!.id]))).status).toBe(400);
    expect((await school.teacher.send('PUT', group('odd'), wish(['nobody']))).status).toBe(400);
    const odd = await school.teacher.send('PUT', group('%20'), wish([]));
    expect([odd.status, odd.body['detail']]).toEqual([400, '“ ” cannot be an id. Nothing was changed.']);
    expect((await school.reviewer.send('PUT', group('odd'), wish([]))).status).toBe(403);
    expect((await school.stranger.send('PUT', group('odd'), wish([]))).status).toBe(404);
    expect((await school.pool.query('select 1 from student_group')).rowCount).toBe(0);
  });
});

describe('kept views', () => {
  it('are one person’s own, as many as sixty, and forgotten one by one', async () => {
    for (let n = 1; n <= 60; n++)
      await school.reviewer.must('PUT', view(`v${n}`), { title: `View ${n}`, query: `find=${n}` });
    const full = await school.reviewer.send('PUT', view('v61'), { title: 'One more', query: '' });
    expect([full.status, full.body['detail']]).toEqual([400, 'There are 60 views already. Take one away first.']);
    // One that is there is written over.
    const again = await school.reviewer.must<SavedView[]>('PUT', view('v7'), { title: 'Seventh', query: 'x=1' });
    expect(again).toHaveLength(60);
    expect(again.find((v) => v.id === 'v7')).toEqual({ id: 'v7', title: 'Seventh', query: 'x=1' });
    expect(await school.teacher.must<SavedView[]>('PUT', view('own'), { title: 'Own', query: '' })).toHaveLength(1);
    // Somebody else's is not touched by its id.
    await school.teacher.must('DELETE', view('v7'));
    expect(await school.reviewer.must<SavedView[]>('DELETE', view('v8'))).toHaveLength(59);
  });
});
