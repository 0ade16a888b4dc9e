import { randomBytes, randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { JournalPage } from '@contract/history';
import type { LiveEvent, OwnEvent } from '@contract/presence';
import type { Slip } from '@contract/slips';
import type { StudentBook } from '@contract/statements';
import type { Submission } from '@contract/work/submissions';
import type { Notices } from '@contract/notices';
import { wordsOf } from '@core/text/rich-text';
import type { Mark } from '@contract/work/marks';
import { feedbackWork, type FeedbackWork } from '../../../testing/feedback-work';
import { misformattedLines } from '../../../testing/journal-formats';
import { listen, operation, type Person } from '../../../testing/person';
import type { TestSchool } from '../../../testing/school';

const MARK: Mark = {
  ...{ kind: 'note', ink: 'plum', surface: { on: 'whole', index: 0 }, comment: 'which horizon?', at: [0.5, 0.1] },
} as Mark;

let school: TestSchool;
let id: string;
let ada: Submission;
let work: FeedbackWork;
beforeAll(async () => {
  work = await feedbackWork();
  ({ school, id, ada } = work);
});
afterAll(() => school.close());

const slip = (who?: Person, assessment?: string): Promise<Slip> => work.slip(who, assessment);
const stateOf = (enrolment?: string): ReturnType<FeedbackWork['stateOf']> => work.stateOf(enrolment);
const notices = (who?: Person): Promise<string[]> => work.notices(who);
const release = (more?: object, enrolments?: string[] | null): Promise<{ people: number }> =>
  work.release(more, enrolments);
const withdraw = (more?: object): Promise<unknown> => work.withdraw(more);

describe('what comes back beside a score', () => {
  it('is nothing before a release, whatever staff write, give, mark and record', async () => {
    const before = await work.allBytes();
    await work.give({ drawing: 4, reading: 12 });
    await work.write('Clear drawing, argue the water table.');
    await school.teacher.must('PUT', `/books/fens/submissions/${ada.id}/marks/${randomUUID()}`, {
      ...{ version: 0, leaf: 'typed', mark: MARK },
    });
    const given = await work.file(randomBytes(3_000));
    const staff = await work.file(randomBytes(1_000), 'staff');
    expect(await work.allBytes()).toBe(before);
    expect(await slip()).toMatchObject({ releasedAt: null, rubric: null, feedback: null, comment: '', fresh: false });
    for (const f of [given, staff, 'nothing'])
      expect((await school.ada.send('GET', `/my/books/fens/slips/${id}/files/${f}`)).status).toBe(404);
    expect(await stateOf()).toMatchObject({
      ...{ score: 'draft', rubric: 'draft', feedback: 'draft', unfinished: [], releasedAt: null },
    });
  });

  it('comes with its score, and whole: rubric, note, marks, files; never what is for staff alone', async () => {
    expect(await release()).toMatchObject({ people: 1 });
    const got = await slip();
    expect(got).toMatchObject({ releasedBy: 'S. teacher', fresh: true, comment: '' });
    expect(got.rubric?.rubric.criteria.map((c) => c.title)).toEqual(['Profile drawing', 'Reading of the site']);
    expect(got.rubric?.works).toMatchObject([
      {
        ...{ work: ada.id, attempt: 1, by: ['S. teacher'] },
        marks: [
          { criterion: 'drawing', mark: { points: 4 } },
          { criterion: 'reading', mark: { points: 12 } },
        ],
      },
    ]);
    const [work] = got.feedback!.works;
    expect(wordsOf(work!.note!)).toBe('Clear drawing, argue the water table.');
    expect(work).toMatchObject({ attempt: 1, by: ['S. teacher'], marks: [{ leaf: 'typed', mark: { comment: 'which horizon?' } }] }); // prettier-ignore
    expect(work!.files.map((f) => f.purpose)).toEqual(['given']);
    expect((await school.ada.bytes(`/my/books/fens/slips/${id}/files/${work!.files[0]!.id}`)).length).toBe(3_000);
    const book = await school.ada.must<StudentBook>('GET', '/my/books/fens');
    expect(book.work.find((w) => w.id === id)).toMatchObject({
      ...{ feedback: true, fresh: true },
      score: { sum: { attempt: 1, marked: '16', terms: [], counts: '16' } },
    });
    expect(await notices()).toEqual([`${got.title} came back to you: score, rubric and feedback.`]);
    const { rows } = await school.pool.query<{ subject: string; body: string; path: string }>(
      `select subject, body, path from mail where kind = 'told' order by made_at desc limit 1`,
    );
    expect(rows[0]).toEqual({
      ...{ subject: 'Fens: something new to read', body: 'There is something new to read in Fens.' },
      path: `/my/fens?slip=${id}`,
    });
  });

  it('says to staff who was told, opened it and fetched its files', async () => {
    expect(await stateOf()).toMatchObject({
      score: 'released',
      rubric: 'released',
      feedback: 'released',
      opened: null,
    });
    const fetched = (await stateOf()).fetched;
    expect(fetched).not.toBeNull();
    for (let n = 0; n < 2; n++) await school.ada.must('POST', `/my/books/fens/slips/${id}/traces`, { kind: 'opened' });
    const state = await stateOf();
    expect([state.opened, state.told, state.played].map((m) => m === null)).toEqual([false, false, true]);
    expect((await slip()).fresh).toBe(false);
    expect((await school.ada.must<Notices>('GET', '/my/notices')).map((n) => n.seen)).toEqual([true]);
    // Ben has nothing to open; nobody notes it for another.
    expect((await school.ben.send('POST', `/my/books/fens/slips/${id}/traces`, { kind: 'opened' })).status).toBe(404);
    const played = { kind: 'played', file: 'nothing' };
    expect((await school.ada.send('POST', `/my/books/fens/slips/${id}/traces`, played)).status).toBe(404);
  });

  it('stays as it was released, to the byte, until it is released again', async () => {
    const before = await work.allBytes();
    await work.give({ drawing: 2 }, { drawing: 1 });
    await work.write('And name the horizons.');
    await school.teacher.must('PUT', `/books/fens/submissions/${ada.id}/marks/${randomUUID()}`, {
      ...{ version: 0, leaf: 'typed', mark: { ...MARK, comment: 'no' } },
    });
    const more = await work.file(randomBytes(500), 'given', true);
    await school.teacher.must('PUT', `/books/fens/staff-notes/${school.adaId}/${id}`, {
      ...{ operation: operation(), version: 0, note: 'borrowed book?', secondLook: true },
    });
    await work.write('For Ben alone.', school.teacher, school.benId, 'hand-1');
    expect(await work.allBytes()).toBe(before);
    expect((await school.ada.send('GET', `/my/books/fens/slips/${id}/files/${more}`)).status).toBe(404);
    expect(await stateOf()).toMatchObject({
      ...{ score: 'changed', rubric: 'changed', feedback: 'changed', unfinished: ['second-look'] },
    });
  });

  it('is released part by part: feedback alone says nothing new of the score', async () => {
    await release({ parts: ['feedback'] });
    const got = await slip();
    expect(wordsOf(got.feedback!.works[0]!.note!)).toContain('name the horizons');
    expect(got.feedback!.everybody).toHaveLength(1);
    expect(got.rubric?.works[0]?.marks[0]).toMatchObject({ mark: { points: 4 } });
    const book = await school.ada.must<StudentBook>('GET', '/my/books/fens');
    expect(book.work.find((w) => w.id === id)?.score?.earned).toBe('16');
    expect(got.fresh).toBe(true);
    expect((await notices())[0]).toBe(`${got.title} came back to you: feedback.`);
    expect(await stateOf()).toMatchObject({ score: 'changed', rubric: 'changed', feedback: 'released', opened: null });
  });

  it('tells nobody twice of the same, and refuses to release what is not new', async () => {
    const before = (await notices()).length;
    const again = await school.teacher.send<{ detail: string }>('POST', '/books/fens/release', {
      ...{ operation: operation(), assessment: id, enrolments: [school.adaId], moveRules: true, parts: ['feedback'] },
    });
    expect([again.status, again.body.detail]).toEqual([
      400,
      'There is nothing new of Work 1 for these students beside their scores. Nothing was released.',
    ]);
    const write = { operation: operation(), assessment: id, enrolments: [school.adaId], moveRules: true };
    await school.teacher.must('POST', '/books/fens/release', write);
    await school.teacher.must('POST', '/books/fens/release', write);
    expect((await notices()).slice(0, -before)).toEqual([`Work 1 came back to you: score and rubric.`]);
  });

  it('is not released where a colleague changed it after it was looked at', async () => {
    const { students } = await work.states();
    const seen = students
      .filter((s) => s.enrolment === school.adaId)
      .map((s) => ({ enrolment: s.enrolment, ...s.now }));
    await work.write('Between two looks.', school.marker);
    const send = (more: object) =>
      school.teacher.send<{ detail: string }>('POST', '/books/fens/release', {
        ...{ operation: operation(), assessment: id, enrolments: [school.adaId], moveRules: true, seen, ...more },
      });
    const answer = await send({});
    expect([answer.status, answer.body.detail]).toEqual([
      409,
      'Something of 1 student became another after you looked. Nothing was released; look again.',
    ]);
    expect(wordsOf((await slip()).feedback!.works[0]!.note!)).not.toContain('Between two looks');
    // The score was looked at as it is.
    expect((await send({ parts: ['score'] })).status).toBe(200);
    expect((await send({ seen: [] })).status).toBe(409);
  });

  it('is not new again where the same is released once more', async () => {
    await school.ada.must('POST', `/my/books/fens/slips/${id}/traces`, { kind: 'opened' });
    const before = (await slip()).releasedAt;
    await release({ parts: ['score'] });
    expect(await slip()).toMatchObject({ fresh: false, releasedAt: before });
    expect((await stateOf()).opened).not.toBeNull();
  });

  it('says one thing to everybody, where that is wanted, and keeps it', async () => {
    await release({ parts: ['feedback'], comment: ' Look at the key first. ' }, null);
    expect((await slip()).comment).toBe('Look at the key first.');
    expect(await slip(school.ben)).toMatchObject({ comment: 'Look at the key first.', rubric: null });
    expect((await slip(school.ben)).feedback?.everybody).toHaveLength(1);
    await work.write('Last words.');
    await release({ parts: ['feedback'] });
    expect((await slip()).comment).toBe('Look at the key first.');
  });

  it('is withdrawn in parts or whole: gone at once, with its files', async () => {
    const [given] = (await slip()).feedback!.works[0]!.files;
    const at = `/my/books/fens/slips/${id}/files/${given!.id}`;
    expect((await school.ada.send('GET', at)).status).toBe(200);
    await withdraw({ parts: ['feedback'] });
    expect(await slip()).toMatchObject({ feedback: null, comment: '' });
    expect((await slip()).rubric).not.toBeNull();
    expect((await school.ada.send('GET', at)).status).toBe(404);
    await withdraw();
    expect(await slip()).toMatchObject({ releasedAt: null, rubric: null, feedback: null });
    const book = await school.ada.must<StudentBook>('GET', '/my/books/fens');
    expect(book.work.find((w) => w.id === id)).toMatchObject({ score: null, feedback: false, fresh: false });
    expect(await stateOf()).toMatchObject({ score: 'draft', rubric: 'draft', feedback: 'draft', releasedAt: null });
  });

  it('is read by staff as the student reads it, and by nobody else', async () => {
    await release();
    const as = (enrolment: string): string => `/books/fens/as-student/${enrolment}/slips/${id}`;
    expect({ ...(await school.reviewer.must<Slip>('GET', as(school.adaId))), fresh: true }).toEqual(await slip());
    expect((await school.stranger.send('GET', as(school.adaId))).status).toBe(404);
    expect((await school.ben.send('GET', as(school.adaId))).status).toBe(403);
    expect((await school.reviewer.send('GET', as('s-nobody'))).status).toBe(404);
    const [given] = (await slip()).feedback!.works[0]!.files;
    expect((await school.ben.send('GET', `/my/books/fens/slips/${id}/files/${given!.id}`)).status).toBe(404);
    expect((await school.ben.send('GET', `/books/fens/assessments/${id}/slips`)).status).toBe(403);
    expect((await school.marker.send('POST', '/books/fens/release', { operation: operation(), assessment: id, enrolments: null, moveRules: true })).status).toBe(403); // prettier-ignore
  });

  it('is told at once to those whom it concerns, by ids alone, and to nobody else', async () => {
    const [hers, his, theirs] = await Promise.all([
      listen<OwnEvent>(school.ada, '/my/events'),
      listen<OwnEvent>(school.ben, '/my/events'),
      listen<LiveEvent>(school.marker, '/events?book=fens'),
    ]);
    await theirs.until((e) => e.kind === 'hello');
    await withdraw();
    expect(await hers.until((e) => e.kind === 'slip')).toEqual({ kind: 'slip', book: 'fens', assessment: id });
    await theirs.until((e) => e.kind === 'slip');
    await release();
    await school.teacher.must('POST', '/books/fens/release', {
      ...{ operation: operation(), assessment: id, enrolments: [school.benId], moveRules: true },
    });
    // What comes to him shows that nothing of hers did before.
    expect(await his.until((e) => e.kind === 'slip')).toMatchObject({ assessment: id });
    expect(his.events).toHaveLength(1);
    expect((await school.teacher.send('GET', '/my/events')).status).toBe(403);
    for (const told of [hers, his, theirs]) told.close();
  });

  it('is told again to those alone who have not opened it', async () => {
    const tell = (enrolments: string[], who = school.teacher) =>
      who.send<{ people: number; detail: string }>('POST', `/books/fens/assessments/${id}/tell-again`, {
        ...{ operation: operation(), enrolments },
      });
    await school.ada.must('POST', `/my/books/fens/slips/${id}/traces`, { kind: 'opened' });
    const before = [(await notices()).length, (await notices(school.ben)).length];
    expect((await tell([school.adaId, school.benId])).body).toEqual({ people: 1 });
    expect([(await notices()).length, (await notices(school.ben)).length]).toEqual([before[0], before[1]! + 1]);
    expect((await notices(school.ben))[0]).toBe('Work 1 came back to you, and you have not opened it yet.');
    expect((await tell([school.adaId])).body.detail).toContain('None of these students');
    expect((await tell([school.benId], school.marker)).status).toBe(403);
  });

  it('holds the work where it is while it is released', async () => {
    const move = { ...{ operation: operation(), version: ada.version, reason: 'wrong place' }, to: { book: 'fens', assessment: 'test' } }; // prettier-ignore
    const answer = await school.teacher.send('POST', `/books/fens/submissions/${ada.id}/move`, move);
    expect(answer.status).toBeGreaterThanOrEqual(400);
  });

  it('stands in the journal with hashes alone, a line for a student', async () => {
    expect(await misformattedLines(school.pool)).toEqual([]);
    const { sets } = await school.teacher.must<JournalPage>(
      'GET',
      `/books/fens/journal?kind=releases&assessment=${id}`,
    );
    const whole = sets.find((set) => set.lines === 2)!;
    expect(whole).toMatchObject({ kind: 'release', students: 1 });
    const beside = whole.shown.find((l) => l.kind === 'feedback-release')!;
    expect(Object.keys(JSON.parse(beside.becomes!) as object).sort()).toEqual(['feedback', 'rubric']);
    expect(beside.becomes).not.toContain('horizon');
  });
});
