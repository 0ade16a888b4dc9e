import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Notices } from '@contract/notices';
import type { Arrivals, DueList } from '@contract/work/submissions';
import { HandingIn } from '../../testing/hand-in';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
let handing: HandingIn;
beforeAll(async () => {
  school = await testSchool();
  await school.runClock('2026-12-05T09:00:00Z');
  handing = new HandingIn(school);
});
afterAll(() => school.close());

const UNTIL = '2026-12-08T17:00:00Z';
const cellOf = async (id: string) => {
  const sheet = await school.teacher.must<{ document: { entries: { item: string; student: string }[] } }>(
    'GET',
    '/books/fens/sheet',
  );
  return sheet.document.entries.find((e) => e.item === id && e.student === school.adaId) as
    { attempts?: { score?: number; receivedAt?: string }[]; dueAt?: string } | undefined;
};
const versionOf = async (id: string): Promise<number> => {
  const sql = 'select version from entry where book = $1 and assessment = $2 and enrolment = $3';
  return (await school.pool.query<{ version: number }>(sql, ['fens', id, school.adaId])).rows[0]?.version ?? 0;
};
const openAgain = async (id: string, again: 'same' | 'new', more: object = {}) =>
  school.teacher.send('POST', '/books/fens/changes', {
    ...{ operation: operation(), kind: 'exception', title: 'open again', again, tell: 'The map is missing.' },
    cells: [
      {
        ...{ assessment: id, enrolment: school.adaId, version: await versionOf(id) },
        change: { kind: 'dates', dueAt: UNTIL, closesAt: null },
      },
    ],
    ...more,
  });
const closed = { due: '2026-12-01T17:00:00Z', closes: '2026-12-02T17:00:00Z' };

describe('open again', () => {
  it('lets a student hand in for whom it was over, says until when and why, and tells them once', async () => {
    const id = await handing.assessment(closed);
    expect((await handing.page(id)).shut).toMatch(/^Work was taken in until/);
    expect((await openAgain(id, 'new')).status).toBe(200);
    const page = await handing.page(id);
    expect([page.shut, page.again, page.late]).toEqual(['', { until: '2026-12-08T17:00:00.000Z', comment: 'The map is missing.' }, []]); // prettier-ignore
    const [told] = await school.ada.must<Notices>('GET', '/my/notices');
    expect(told).toMatchObject({ path: `/my/fens/${id}`, by: 'S. teacher' });
    expect(told!.text).toBe(`${page.title} is open again until 8 Dec 17:00. The map is missing.`);
    const { work } = await school.ada.must<DueList>('GET', '/my/due');
    expect(work.find((w) => w.assessment === id)).toMatchObject({ state: 'open', again: true });
    const list = await school.teacher.must<Arrivals>('GET', `/books/fens/assessments/${id}/arrivals`);
    expect(list.students.find((s) => s.enrolment === school.adaId)!.openAgain).toBe('2026-12-08T17:00:00.000Z');
    await handing.handIn(id);
    expect(await handing.page(id)).toMatchObject({ again: null, attemptsLeft: 0 });
  });

  it('as a new attempt: what was handed in and its score stay, and one more stands beside it', async () => {
    const id = await handing.assessment({ due: '2026-12-20T17:00:00Z' });
    await handing.handIn(id);
    expect((await handing.page(id)).shut).toBe('It is handed in. There is one attempt.');
    await school.put(id, school.adaId, await versionOf(id), { kind: 'score', points: 12 });
    await openAgain(id, 'new');
    expect(await handing.page(id)).toMatchObject({ shut: '', attemptsLeft: 1 });
    await handing.handIn(id, school.ada, 'With the map.');
    expect((await cellOf(id))!.attempts).toMatchObject([{ score: 12 }, {}]);
    expect((await handing.page(id)).before.map((s) => [s.typed, s.attempt])).toEqual([
      ['With the map.', 2],
      ['What I found.', 1],
    ]);
  });

  it('as the same attempt: what comes then is marked in its place, and both stay readable', async () => {
    const id = await handing.assessment({ due: '2026-12-20T17:00:00Z' });
    await handing.handIn(id);
    await school.put(id, school.adaId, await versionOf(id), { kind: 'score', points: 12 });
    await openAgain(id, 'same');
    const second = await handing.handIn(id, school.ada, 'With the map.');
    const { attempts } = (await cellOf(id))!;
    expect(attempts).toHaveLength(1);
    expect(attempts![0]!.score).toBeUndefined();
    expect(Date.parse(attempts![0]!.receivedAt!)).toBe(Date.parse(second.handedInAt!));
    expect((await handing.page(id)).before.map((s) => [s.typed, s.attempt])).toEqual([
      ['With the map.', 1],
      ['What I found.', 1],
    ]);
    const back = { operation: operation(), submission: second.id, version: second.version };
    const answer = await school.ada.send<{ detail: string }>('POST', `${handing.at(id)}/take-back`, back);
    expect([answer.status, answer.body.detail]).toEqual([
      403,
      'It came in place of an earlier one. It stays handed in.',
    ]);
  });

  it('gives nothing any more once its date was put back, and never an attempt that was there anyway', async () => {
    const id = await handing.assessment(closed, { attempts: 3 });
    await openAgain(id, 'new');
    expect((await handing.page(id)).attemptsLeft).toBe(3);
    const put = await school.put(id, school.adaId, await versionOf(id), { kind: 'due', dueAt: null });
    expect(put.status).toBe(200);
    expect((await handing.page(id)).shut).toMatch(/^Work was taken in until/);
  });

  it('is until a day that is to come, by the teachers alone', async () => {
    const id = await handing.assessment(closed);
    const change = { kind: 'dates', dueAt: '2026-12-04T17:00:00Z', closesAt: null };
    const cells = [{ assessment: id, enrolment: school.adaId, version: 0, change }];
    expect((await openAgain(id, 'new', { cells })).status).toBe(400);
    const body = { operation: operation(), kind: 'exception', again: 'new', cells: [{ ...cells[0]!, change: { ...change, dueAt: UNTIL } }] }; // prettier-ignore
    expect((await school.marker.send('POST', '/books/fens/changes', body)).status).toBe(403);
  });
});
