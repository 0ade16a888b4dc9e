import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Notices } from '@contract/notices';
import type { Desk } from '@contract/overview';
import type { OwnThreads, Thread, ThreadList } from '@contract/work/threads';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.runClock('2026-11-24T09:00:00Z');
});
afterAll(() => school.close());

const OWN = '/my/books/fens/assessments/test/thread';
const staff = (): string => `/books/fens/assessments/test/threads/${school.adaId}`;
const words = (text: string, seen: number) => ({ operation: operation(), seen, text });
const said = (t: Thread): string[] => t.messages.map((m) => `${m.kind} by ${m.by}: ${m.text}`);

describe('a question', () => {
  it('is answered where it was asked, and both read the whole thread', async () => {
    expect(await school.ada.must<Thread>('GET', OWN)).toEqual({ messages: [], unansweredSince: null });
    const asked = await school.ada.must<Thread>('POST', OWN, words('Does the sketch count?', 0));
    expect(said(asked)).toEqual(['question by A. Adler: Does the sketch count?']);
    expect(asked.unansweredSince).not.toBeNull();
    const read = await school.marker.must<Thread>('GET', staff());
    expect(read.messages.map((m) => m.own)).toEqual([false]);
    const answered = await school.teacher.must<Thread>('POST', staff(), words('Yes, a little.', 1));
    expect(answered.unansweredSince).toBeNull();
    expect(said(await school.ada.must<Thread>('GET', OWN))).toEqual([
      'question by A. Adler: Does the sketch count?',
      'answer by S. teacher: Yes, a little.',
    ]);
  });

  it('is told to the teachers, its answer to the student, and by mail only that it is there', async () => {
    const told = await school.teacher.must<Notices>('GET', '/my/notices');
    expect(told.map((n) => [n.kind, n.text])).toEqual([['question', 'A. Adler asks about Test.']]);
    expect(told[0]!.path).toBe(`/book/fens/assessments/test/arrivals?student=${school.adaId}`);
    expect(await school.marker.must<Notices>('GET', '/my/notices')).toEqual([]);
    const [answer] = await school.ada.must<Notices>('GET', '/my/notices');
    expect(answer).toMatchObject({
      kind: 'answer',
      text: 'Your question about Test was answered.',
      path: '/my/fens/test',
    });
    const { rows } = await school.pool.query<{ body: string }>(`select body from mail where kind = 'told'`);
    expect(rows.map((r) => r.body).join(' ')).not.toMatch(/Adler|sketch|little|Test/);
  });

  it('stands on the desk until it is answered or set aside, which the student does not see', async () => {
    const desk = async (): Promise<Desk['questions']> => (await school.teacher.must<Desk>('GET', '/desk')).questions;
    expect(await desk()).toEqual([]);
    await school.ada.must('POST', OWN, words('And the map?', 2));
    await school.ada.must('POST', OWN, words('I mean the large one.', 3));
    const [waits] = await desk();
    expect(waits).toMatchObject({ book: 'fens', assessment: 'test', whose: 'A. Adler', title: 'Test' });
    const list = await school.teacher.must<ThreadList>('GET', '/books/fens/assessments/test/threads');
    expect(list).toEqual([{ enrolment: school.adaId, messages: 4, unanswered: true }]);
    // Waiting since the first that nobody answered.
    const { messages, unansweredSince } = await school.teacher.must<Thread>('GET', staff());
    expect(unansweredSince).toBe(messages[2]!.at);
    expect(waits!.since).toBe(messages[2]!.at);
    await school.teacher.must('POST', `${staff()}/set-aside`, { operation: operation(), seen: 4 });
    expect(await desk()).toEqual([]);
    const own = await school.ada.must<Thread>('GET', OWN);
    expect(own.messages).toHaveLength(4);
    expect(await school.ada.must<OwnThreads>('GET', '/my/threads')).toEqual([
      { book: 'fens', assessment: 'test', unanswered: true },
    ]);
    expect(await school.ben.must<OwnThreads>('GET', '/my/threads')).toEqual([]);
  });

  it('is not answered over something that its reader had not seen, nor twice by one answer sent again', async () => {
    const stale = await school.teacher.send<{ now: Thread }>('POST', staff(), words('Too early.', 3));
    expect([stale.status, stale.body.now.messages.length]).toEqual([409, 5]);
    const sent = words('The large one, yes.', 5);
    await school.teacher.must('POST', staff(), sent);
    await school.teacher.must('POST', staff(), sent);
    expect((await school.ada.must<Thread>('GET', OWN)).messages).toHaveLength(5);
  });

  it('is between the student and the staff of the book: nobody else reads it or writes in it', async () => {
    for (const [who, get, post] of [
      [school.reviewer, 200, 403],
      [school.marker, 200, 403],
      [school.office, 200, 403],
      [school.stranger, 404, 404],
      [school.ben, 403, 403],
    ] as const) {
      expect((await who.send('GET', staff())).status).toBe(get);
      expect((await who.send('POST', staff(), words('x', 6))).status).toBe(post);
    }
    expect((await school.ben.must<Thread>('GET', OWN)).messages).toEqual([]);
    const outsider = `/my/books/hills/assessments/test/thread`;
    expect((await school.ada.send('GET', outsider)).status).toBe(404);
    expect((await school.teacher.send('GET', '/books/fens/assessments/test/threads/e-nobody')).status).toBe(404);
  });

  it('is answered by a marker in a draft alone, which a teacher sends and no student reads', async () => {
    const own = '/my/books/fens/assessments/reed/thread';
    const at = `/books/fens/assessments/reed/threads/${school.adaId}`;
    expect((await school.marker.send('POST', `${at}/draft`, words('Nobody asked.', 0))).status).toBe(409);
    await school.ada.must('POST', own, words('By hand or typed?', 0));
    const drafted = await school.marker.must<Thread>('POST', `${at}/draft`, words('Either: heron.', 1));
    expect(said(drafted)).toEqual(['question by A. Adler: By hand or typed?', 'draft by S. marker: Either: heron.']);
    // It waits on, for the teachers and for the student, who learns nothing of the draft.
    expect(drafted.unansweredSince).toBe(drafted.messages[0]!.at);
    expect((await school.teacher.must<Desk>('GET', '/desk')).questions.map((q) => q.assessment)).toEqual(['reed']);
    const list = `/books/fens/assessments/reed/threads`;
    expect(await school.teacher.must<ThreadList>('GET', list)).toEqual([
      { enrolment: school.adaId, messages: 2, unanswered: true },
    ]);
    expect(await school.ada.must<OwnThreads>('GET', '/my/threads')).toContainEqual({
      ...{ book: 'fens', assessment: 'reed', unanswered: true },
    });
    for (const path of [own, '/my/threads', '/my/notices', '/my/books/fens/statement', '/my/data'])
      expect(JSON.stringify(await school.ada.send('GET', path))).not.toMatch(/heron/);
    for (const [who, status] of [
      [school.reviewer, 403],
      [school.office, 403],
      [school.stranger, 404],
      [school.ada, 403],
    ] as const)
      expect((await who.send('POST', `${at}/draft`, words('x', 2))).status).toBe(status);
    // Who answers has read the draft; who drafts, what was said meanwhile.
    expect((await school.teacher.send('POST', at, words('Either.', 1))).status).toBe(409);
    await school.teacher.must('POST', at, words('Either.', 2));
    expect((await school.marker.send('POST', `${at}/draft`, words('Typed.', 2))).status).toBe(409);
    expect((await school.marker.send('POST', `${at}/draft`, words('Typed.', 3))).status).toBe(409);
    expect(said(await school.ada.must<Thread>('GET', own))).toEqual([
      'question by A. Adler: By hand or typed?',
      'answer by S. teacher: Either.',
    ]);
    expect((await school.teacher.must<Desk>('GET', '/desk')).questions).toEqual([]);
  });

  it('keeps the order in which it was written where two messages have one moment', async () => {
    await school.pool.query(`update school set fixed_now = '2026-11-24T10:00:00Z'`);
    const other = '/my/books/fens/assessments/reed/thread';
    const asked = `/books/fens/assessments/reed/threads/${school.benId}`;
    for (let turn = 0; turn < 6; turn++) {
      await school.ben.must('POST', other, words(`Question ${turn}`, turn * 2));
      const { questions } = await school.teacher.must<Desk>('GET', '/desk');
      expect(questions.map((q) => [q.assessment, q.since])).toEqual([['reed', '2026-11-24T10:00:00.000Z']]);
      await school.teacher.must('POST', asked, words(`Answer ${turn}`, turn * 2 + 1));
      expect((await school.teacher.must<Desk>('GET', '/desk')).questions).toEqual([]);
    }
    const { messages } = await school.ben.must<Thread>('GET', other);
    expect(messages.map((m) => m.text)).toEqual(
      [0, 1, 2, 3, 4, 5].flatMap((turn) => [`Question ${turn}`, `Answer ${turn}`]),
    );
  });
});
