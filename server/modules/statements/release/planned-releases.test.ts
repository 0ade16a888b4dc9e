import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PlannedReleases } from '@contract/planned-releases';
import type { Notices } from '@contract/notices';
import type { StudentBook } from '@contract/statements';
import { misformattedLines } from '../../../testing/journal-formats';
import { operation, type Person } from '../../../testing/person';
import { testSchool, type TestSchool } from '../../../testing/school';
import { runPlannedRelease } from './planned-releases';
import { duePlannedReleases } from '../sql/planned-releases';

const BEGIN = '2026-11-24T09:00:00Z';
const LATER = '2026-11-25T08:00:00Z';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.runClock(BEGIN);
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 16 });
  await school.put('moss', school.benId, 0, { kind: 'score', points: 12 });
  await school.put('reed', school.adaId, 0, { kind: 'score', points: 3 });
});
afterAll(() => school.close());

const plan = (more: object = {}, who: Person = school.teacher) =>
  who.send<PlannedReleases & { detail: string }>('POST', '/books/fens/planned-releases', {
    ...{ operation: operation(), assessment: 'moss', enrolments: [school.adaId], moveRules: true, at: LATER },
    ...more,
  });
const list = (): Promise<PlannedReleases> => school.marker.must('GET', '/books/fens/planned-releases');
const callOff = (id: string, who: Person = school.teacher) =>
  who.send<{ detail: string }>('DELETE', `/books/fens/planned-releases/${id}`, { operation: operation() });
const scoreOf = async (assessment: string, who: Person = school.ada) =>
  (await who.must<StudentBook>('GET', '/my/books/fens')).work.find((w) => w.id === assessment)!.score;
const told = async (): Promise<number> => (await school.ada.must<Notices>('GET', '/my/notices')).length;
/** What a server does when it looks for what is due. */
async function sweep(): Promise<number> {
  const due = await duePlannedReleases(school.pool);
  await Promise.all(due.map((d) => runPlannedRelease(school.pool, d)));
  return due.length;
}

describe('a planned release', () => {
  it('waits for its moment, and is done once by however many servers', async () => {
    expect((await plan()).body).toMatchObject([{ assessment: 'moss', students: 1, at: '2026-11-25T08:00:00.000Z', fault: '' }]); // prettier-ignore
    expect(await sweep()).toBe(0);
    expect(await scoreOf('moss')).toBeNull();
    await school.runClock('2026-11-25T08:00:01Z');
    const due = await duePlannedReleases(school.pool);
    expect(due).toHaveLength(1);
    const before = await told();
    // Two servers at once, and one that was ended before it could say that it was done.
    await Promise.all([1, 2, 3].map(() => runPlannedRelease(school.pool, due[0]!)));
    await runPlannedRelease(school.pool, due[0]!);
    expect((await scoreOf('moss'))?.earned).toBe('16');
    expect(await scoreOf('moss', school.ben)).toBeNull();
    expect(await told()).toBe(before + 1);
    expect(await list()).toEqual([]);
    const { rows } = await school.pool.query<{ kind: string }>(
      `select kind from journal where kind in ('release', 'planned-release') order by seq`,
    );
    expect(rows.map((r) => r.kind)).toEqual(['planned-release', 'release']);
    expect(await sweep()).toBe(0);
  });

  it('is called off, once, by those who release', async () => {
    const [made] = (await plan({ assessment: 'reed', at: '2026-11-26T08:00:00Z' })).body;
    expect((await callOff(made!.id, school.marker)).status).toBe(403);
    expect((await callOff('pr-nothing')).status).toBe(404);
    expect((await callOff(made!.id)).status).toBe(200);
    expect((await callOff(made!.id)).status).toBe(409);
    expect(await list()).toEqual([]);
    await school.runClock('2026-11-26T08:00:01Z');
    expect(await sweep()).toBe(0);
    expect(await scoreOf('reed')).toBeNull();
  });

  it('releases what stands there at its moment, to those who are in the book then', async () => {
    await plan({ assessment: 'reed', enrolments: null, parts: ['score'], at: '2026-11-27T08:00:00Z' });
    await school.put('reed', school.adaId, 1, { kind: 'score', points: 2 });
    await school.runClock('2026-11-27T08:00:01Z');
    expect(await sweep()).toBe(1);
    expect((await scoreOf('reed'))?.earned).toBe('2');
    expect(await scoreOf('reed', school.ben)).not.toBeNull();
    // He has nothing there: nothing came back to be told of.
    expect(await school.ben.must('GET', '/my/notices')).toEqual([]);
  });

  it('says why it could not be done, and is not tried for ever', async () => {
    const [made] = (await plan({ assessment: 'reed', parts: ['feedback'], at: '2026-11-28T08:00:00Z' })).body;
    await school.runClock('2026-11-28T08:00:01Z');
    expect(await sweep()).toBe(1);
    expect(await sweep()).toBe(0);
    expect(await list()).toMatchObject([
      { id: made!.id, fault: expect.stringContaining('nothing new of Reed') as string },
    ]);
    expect((await callOff(made!.id)).status).toBe(200);
    expect(await list()).toEqual([]);
  });

  it('goes out by itself when all are done, and not before', async () => {
    await school.runClock('2026-11-29T08:00:00Z');
    const made = await plan({ assessment: 'test', enrolments: null, at: null });
    expect(made.body).toMatchObject([{ at: null, students: null }]);
    /** A look, as if a minute had passed since the last; gives whether it was released. */
    const look = async (): Promise<boolean> => {
      await school.pool.query('delete from planned_release_look');
      expect(await sweep()).toBe(1);
      return (await scoreOf('test')) !== null;
    };
    const later = async (minutes: number): Promise<void> => {
      const { rows } = await school.pool.query<{ at: string }>(
        `select to_char((school_now('tarn') + make_interval(mins => $1)) at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at`,
        [minutes],
      );
      await school.runClock(rows[0]!.at);
    };
    expect(await look()).toBe(false);
    // Looked at a moment ago: not looked at again at once.
    expect(await sweep()).toBe(0);
    await school.put('test', school.adaId, 0, { kind: 'score', points: 40 });
    await school.put('test', school.benId, 0, { kind: 'state', state: 'excused' });
    await later(11);
    // Cleo has nothing yet.
    expect(await look()).toBe(false);
    await school.put('test', school.cleoId, 0, { kind: 'received', at: '2026-11-29T08:00:00Z' });
    await later(11);
    expect(await look()).toBe(false);
    await school.put('test', school.cleoId, 1, { kind: 'score', points: 30 });
    expect(await look()).toBe(false);
    await school.teacher.must('PUT', `/books/fens/staff-notes/${school.cleoId}/test`, {
      ...{ operation: operation(), version: 0, secondLook: true },
    });
    await later(11);
    expect(await look()).toBe(false);
    await school.teacher.must('PUT', `/books/fens/staff-notes/${school.cleoId}/test`, {
      ...{ operation: operation(), version: 1, secondLook: false },
    });
    await later(11);
    expect(await look()).toBe(true);
    expect(await list()).toEqual([]);
    expect(await sweep()).toBe(0);
  });

  it('is refused for what is past, far away, nobody’s or nowhere', async () => {
    const says = async (more: object, who?: Person) => {
      const answer = await plan(more, who);
      return [answer.status, answer.body.detail];
    };
    expect(await says({ at: BEGIN })).toEqual([400, 'This moment is past. Nothing was planned.']);
    expect((await says({ at: '2029-01-01T00:00:00Z' }))[1]).toContain('400 days at most');
    expect(await says({ assessment: 'nothing' })).toEqual([404, 'There is no such assessment in this book.']);
    expect((await says({ enrolments: ['s-nobody'], at: '2026-12-01T08:00:00Z' }))[1]).toContain('not in this book');
    expect((await says({ at: '2026-12-01T08:00:00Z' }, school.marker))[0]).toBe(403);
    expect(await list()).toEqual([]);
    expect(await misformattedLines(school.pool)).toEqual([]);
  });
});
