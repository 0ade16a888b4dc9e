import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BookDocument } from '@core/book/document';
import { damageRules } from '../../testing/sql';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';
import type { ExceptionList } from '@contract/scores';
import { endExceptions, exceptionEndsJob } from './exception-ends';
import { booksWithEnded } from './sql/exception-ends';
import { JobWorker } from '../../kernel/jobs/worker';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.runClock('2026-11-24T09:00:00Z');
});
afterAll(() => school.close());

const list = () => school.teacher.must<ExceptionList>('GET', '/books/fens/exceptions');
const lines = async () => (await list()).lines.map((l) => [l.enrolment, l.assessment, l.kind]);
const document = async () =>
  (await school.teacher.must<{ document: BookDocument }>('GET', '/books/fens/sheet')).document;
const bringIn = (cells: object[], more: object = {}) =>
  school.teacher.send('POST', '/books/fens/intake', { operation: operation(), title: 'lab.csv', cells, ...more });
const change = (cells: object[], more: object = {}) =>
  school.teacher.send('POST', '/books/fens/changes', { operation: operation(), kind: 'exception', cells, ...more });
const cell = (enrolment: string, version: number, c: object, assessment = 'moss') => ({
  assessment,
  enrolment,
  version,
  change: c,
});
const override = (who: string, version: number, more: object) =>
  school.teacher.send('PUT', `/books/fens/overrides/${who}`, {
    operation: operation(),
    version,
    percent: null,
    letter: null,
    reason: '',
    until: null,
    ...more,
  });
const enrol = (more: object, who = school.teacher) =>
  who.send('PATCH', '/books/fens/enrolments', {
    operation: operation(),
    enrolments: [school.benId],
    reason: '',
    ...more,
  });
/** Ends what has ended; gives how many. */
const look = async (): Promise<number> => {
  const due = await booksWithEnded(school.pool);
  const ended = await Promise.all(due.map((of) => endExceptions(school.pool, of)));
  return ended.reduce((a, b) => a + b, 0);
};

describe('exceptions', () => {
  it('stand on one page with their reason, since when and by whom, whatever way they were made', async () => {
    await change([cell(school.adaId, 0, { kind: 'state', state: 'excused' })], { reason: 'ill', title: 'excused' });
    await school.teacher.must('PUT', `/books/fens/entries/reed/${school.adaId}`, {
      operation: operation(),
      version: 0,
      change: { kind: 'due', dueAt: '2026-12-01T17:00:00Z' },
      reason: 'plaster cast',
    });
    await override(school.cleoId, 0, { percent: 64.5, reason: 'examiners’ meeting' });
    await enrol({ extraTimeHours: 24, reason: 'learning plan' });
    expect(
      (await list()).lines.map((l) => [l.assessment, l.kind, l.number ?? l.dueAt ?? '', l.reason, l.by]).sort(),
    ).toEqual(
      [
        ['moss', 'excused', '', 'ill', 'S. teacher'],
        ['reed', 'extension', '2026-12-01T17:00:00.000Z', 'plaster cast', 'S. teacher'],
        [null, 'override', 64.5, 'examiners’ meeting', 'S. teacher'],
        [null, 'extra-time', 24, 'learning plan', 'S. teacher'],
      ].sort(),
    );
    const book = await document();
    expect(book.overrides).toEqual([{ student: school.cleoId, percent: 64.5 }]);
    expect(book.students.find((s) => s.id === school.benId)?.extraTimeHours).toBe(24);
    // A later change of the same cell that is no exception leaves since and reason what they were.
    await school.put('reed', school.adaId, 1, { kind: 'score', points: 7 });
    expect((await list()).lines.find((l) => l.kind === 'extension')?.reason).toBe('plaster cast');
  });

  it('are put back from the journal, override and extra time too', async () => {
    const { sets } = await school.teacher.must<{ sets: { batch: string; kind: string }[] }>(
      'GET',
      '/books/fens/journal',
    );
    for (const kind of ['override', 'enrol'])
      await school.teacher.must('POST', `/books/fens/journal/${sets.find((s) => s.kind === kind)!.batch}/put-back`, {
        operation: operation(),
        leaveLater: false,
        reason: '',
      });
    expect((await document()).overrides).toBeUndefined();
    expect((await lines()).filter(([, a]) => a === null)).toEqual([]);
  });

  it('need a reason where the school wants one, in every way they are made; ending needs none', async () => {
    await school.office.must('PATCH', '/school', { wantsReasons: true });
    const excuse = { kind: 'state', state: 'excused' };
    const says = expect.stringContaining('The school wants a reason') as string;
    for (const tried of [
      await change([cell(school.benId, 0, excuse)]),
      await change([cell(school.benId, 0, excuse)], { reason: '  ' }),
      await school.put('moss', school.benId, 0, excuse),
      await school.put('moss', school.benId, 0, { kind: 'put', entry: { set: 3 } }),
      await override(school.benId, 0, { letter: 'A' }),
      await enrol({ extraTimeHours: 2 }),
      await bringIn([cell(school.benId, 0, excuse)]),
    ])
      expect([tried.status, tried.body['detail']]).toEqual([400, says]);
    // A score needs none.
    expect((await school.put('moss', school.benId, 0, { kind: 'score', points: 11 })).status).toBe(200);
    expect((await change([cell(school.benId, 1, excuse)], { reason: 'fire drill' })).status).toBe(200);
    expect((await change([cell(school.benId, 2, { kind: 'state', state: null })])).status).toBe(200);
    expect((await bringIn([cell(school.benId, 3, excuse)], { reason: 'the lab’s own list' })).status).toBe(200);
    expect((await list()).lines.find((e) => e.enrolment === school.benId)?.reason).toBe('the lab’s own list');
    expect((await change([cell(school.benId, 4, { kind: 'state', state: null })])).status).toBe(200);
    await school.office.must('PATCH', '/school', { wantsReasons: false });
    expect((await school.teacher.send('PATCH', '/school', { wantsReasons: true })).status).toBe(403);
  });

  it('end by themselves on their day, once, in the name of who set it', async () => {
    await change([cell(school.cleoId, 0, { kind: 'state', state: 'awaiting' })], {
      reason: 'parcel on its way',
      ends: { kind: 'awaiting', at: '2026-11-30T09:00:00Z' },
    });
    await override(school.adaId, 0, { letter: 'B', until: '2026-11-30T09:00:00Z' });
    expect(await look()).toBe(0);
    expect((await list()).lines.filter((l) => l.until !== null)).toHaveLength(2);
    await school.runClock('2026-12-01T09:00:00Z');
    // Two servers look at once: one of them ends them.
    const ended = await Promise.all([look(), look()]);
    expect(ended[0]! + ended[1]!).toBe(2);
    expect((await lines()).filter(([, , kind]) => kind === 'awaiting' || kind === 'override')).toEqual([]);
    const { rows } = await school.pool.query<{ login: string }>(
      `select distinct p.login from batch b join person p on p.school = b.school and p.id = b.made_by where b.title = 'Ended by their day'`,
    );
    expect(rows).toEqual([{ login: 'teacher' }]);
    await school.runClock('2026-11-24T09:00:00Z');
  });

  it('that was ended by hand before its day is not ended again', async () => {
    await change([cell(school.cleoId, 2, { kind: 'protect', on: true })], {
      ends: { kind: 'protected', at: '2026-11-25T09:00:00Z' },
    });
    await change([cell(school.cleoId, 3, { kind: 'protect', on: false })]);
    await school.runClock('2026-11-26T09:00:00Z');
    expect(await look()).toBe(0);
    await school.runClock('2026-11-24T09:00:00Z');
  });

  it('that was made anew has the end that was said then, or none', async () => {
    const protect = (version: number, on: boolean, more: object = {}) =>
      change([cell(school.cleoId, version, { kind: 'protect', on })], more);
    await protect(4, true, { ends: { kind: 'protected', at: '2026-11-25T09:00:00Z' } });
    const until = async () => (await list()).lines.find((l) => l.kind === 'protected')?.until;
    expect(await until()).toBe('2026-11-25T09:00:00.000Z');
    await protect(5, false);
    await protect(6, true);
    expect(await until()).toBeNull();
    await school.runClock('2026-11-26T09:00:00Z');
    expect(await look()).toBe(0);
    expect(await until()).toBeNull();
    await school.runClock('2026-11-24T09:00:00Z');
    await protect(7, false);
  });

  it('of several cells are all made or none, and say which were changed meanwhile', async () => {
    const before = await lines();
    const answer = await change([
      cell(school.adaId, 0, { kind: 'protect', on: true }, 'test'),
      cell(school.benId, 99, { kind: 'protect', on: true }, 'test'),
    ]);
    expect(answer.status).toBe(409);
    expect(await lines()).toEqual(before);
  });

  it('an override that somebody else changed meanwhile is not overwritten', async () => {
    await override(school.benId, 0, { letter: 'C' });
    expect((await override(school.benId, 0, { letter: 'A' })).status).toBe(409);
    expect((await document()).overrides).toEqual([{ student: school.benId, letter: 'C' }]);
    expect((await override('nobody', 0, { letter: 'A' })).status).toBe(404);
  });

  it('tell the students of a cell that is open again, and nobody else', async () => {
    await change([cell(school.adaId, 0, { kind: 'dates', dueAt: '2026-12-05T17:00:00Z', closesAt: null }, 'test')], {
      tell: 'Bring the second sheet.',
    });
    const texts = async (who: typeof school.ada) =>
      (await who.must<{ text: string }[]>('GET', '/my/notices')).map((n) => n.text);
    expect(await texts(school.ada)).toEqual(['Bring the second sheet.']);
    expect(await texts(school.ben)).toEqual([]);
  });

  it('as it stood: overrides, extra time and sections are those of that moment', async () => {
    const { rows } = await school.pool.query<{ seq: number }>(
      `select seq from journal where book = 'fens' and kind = 'override' order by seq limit 1`,
    );
    const then = await school.teacher.must<{ document: BookDocument }>('GET', `/books/fens/as-of?at=${rows[0]!.seq}`);
    expect(then.document.overrides).toEqual([{ student: school.cleoId, percent: 64.5 }]);
  });

  it('of a kind that does not exist are refused, and one book whose ends fail holds up no other', async () => {
    for (const kind of ['holiday', 'override', '__proto__'])
      expect((await change([cell(school.cleoId, 0, { kind: 'clear' }, 'test')], { ends: { kind, at: '2026-11-30T09:00:00Z' } })).status).toBe(400); // prettier-ignore
    // Of an earlier version: a kind that nobody knows, and one of a person who is not there any more.
    await school.pool.query(
      `insert into exception_end (school, book, enrolment, place, kind, until, set_by, set_at)
       select school, 'fens', $1, 'moss', 'holiday', '2026-11-01', id, now() from person where login = 'teacher'`,
      [school.benId],
    );
    const { rows: hills } = await school.pool.query<{ id: string }>(`select id from enrolment where book = 'hills'`);
    await school.stranger.must('PATCH', '/books/hills/enrolments', {
      operation: operation(),
      enrolments: [hills[0]!.id],
      extraTimeHours: 2,
      until: '2026-11-24T08:00:00Z',
      reason: '',
    });
    // A book that cannot be read any more.
    await damageRules(school.pool, 'hills', '{', 'journal');
    const failed: unknown[] = [];
    await enrol({ extraTimeHours: 3, until: '2026-11-24T08:00:00Z' });
    const worker = new JobWorker(exceptionEndsJob, { pool: school.pool, failed: (error) => failed.push(error) });
    expect(await worker.sweep()).toBe(2);
    while (await worker.step());
    expect((await lines()).filter(([who, , kind]) => who === school.benId && kind === 'extra-time')).toEqual([]);
    expect(failed).toHaveLength(1);
    const { rows } = await school.pool.query(`select kind from exception_end where kind = 'holiday'`);
    expect(rows).toEqual([]);
    await school.pool.query(`delete from exception_end where book = 'hills'`);
  });

  it('of a book that is put away end once it is taken out again', async () => {
    await enrol({ extraTimeHours: 4, until: '2026-11-24T08:00:00Z' });
    await school.pool.query(`update book set archived_at = now() where id = 'fens'`);
    expect(await look()).toBe(0);
    await school.pool.query(`update book set archived_at = null where id = 'fens'`);
    expect(await look()).toBe(1);
  });

  it('are told to students in words only by the teachers of the book', async () => {
    const sent = { operation: operation(), kind: 'change', tell: 'Come and see me.', cells: [cell(school.adaId, 1, { kind: 'score', points: 1 })] }; // prettier-ignore
    const marker = await school.marker.send('POST', '/books/fens/changes', sent);
    expect([marker.status, marker.body['detail']]).toEqual([403, expect.stringMatching(/Only the teachers/)]);
    expect((await school.pool.query(`select 1 from notice where body like 'Come%'`)).rowCount).toBe(0);
  });
});
