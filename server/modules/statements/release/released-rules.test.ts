import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { KeptTrials, TrialWrite } from '@contract/rules';
import { operation } from '../../../testing/person';
import { RULES, testSchool, type TestSchool } from '../../../testing/school';
import type { Notices } from '@contract/notices';
import type { ReleasePreview, StudentBook } from '@contract/statements';
let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: true });
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 16 });
  await school.put('moss', school.benId, 0, { kind: 'score', points: 12 });
  await school.put('reed', school.adaId, 0, { kind: 'score', points: 5 });
  await school.release('moss', [school.adaId, school.benId]);
});
afterAll(() => school.close());

const everything = async (): Promise<string> =>
  (await Promise.all(['/my/books', '/my/books/fens', '/my/notices'].map((p) => school.ada.send('GET', p))))
    .map((a) => a.text)
    .join('\n');
const standing = async (): Promise<StudentBook['standing']> =>
  (await school.ada.must<StudentBook>('GET', '/my/books/fens')).standing;
const notices = async (): Promise<string[]> =>
  (await school.ada.must<Notices>('GET', '/my/notices')).flatMap((n) => /Your standing.*$/.exec(n.text) ?? []);
const preview = (write: object): Promise<ReleasePreview> =>
  school.teacher.must<ReleasePreview>('POST', '/books/fens/release/preview', {
    assessment: 'reed',
    enrolments: [school.adaId],
    moveRules: true,
    ...write,
  });
const makeRules = (version: number, rules: object, more: object = {}) =>
  school.teacher.must('PUT', '/books/fens/rules', { operation: operation(), version, reason: '', rules, ...more });

describe('released standings', () => {
  it('stay, byte for byte, through a score, a rule and the points of released work, until something is released', async () => {
    const before = await everything();
    await school.put('moss', school.adaId, 1, { kind: 'score', points: 10 });
    const letters = { letters: { bands: [{ label: 'Z', from: 0 }] } };
    await makeRules(1, { ...RULES, rules: { ...RULES.rules, scales: letters } }, { reason: 'the moderators asked' });
    const moss = { operation: operation(), version: 1, points: 40, scores: 'keep-points', reason: '', tell: null };
    await school.teacher.must('PATCH', '/books/fens/assessments/moss', moss);
    const all = { all: await preview({ moveRules: true }), alone: await preview({ moveRules: false }) };
    expect(await everything()).toBe(before);
    // 16 of 20 as released, and 5 of 10 that would be: 70.0 by yesterday's rules.
    expect(all.alone.lines).toEqual([
      {
        enrolment: school.adaId,
        before: { percent: '80.0', letter: 'A' },
        after: { percent: '70.0', letter: 'B' },
        byRules: false,
      },
    ]);
    // Today's rules make moss worth 40, of which 16 were released.
    expect(all.all.lines).toMatchObject([{ after: { percent: '42.0', letter: 'Z' }, byRules: true }]);
    expect(all.all.reasons).toEqual(['the moderators asked']);

    await school.release('reed', [school.adaId], false);
    expect(await standing()).toMatchObject({ percent: '70.0', letter: 'B' });
    expect(await notices()).toEqual([]);
  });

  it('are moved by rules only where these are released, and then it is told, in the words of who releases', async () => {
    const release = (tell: object): Promise<unknown> =>
      school.teacher.must('POST', '/books/fens/release', {
        operation: operation(),
        assessment: 'reed',
        enrolments: [school.adaId],
        moveRules: true,
        ...tell,
      });
    await release({ tell: 'the moderators asked' });
    expect(await standing()).toMatchObject({ percent: '42.0', letter: 'Z' });
    expect(await notices()).toEqual([
      'Your standing is worked out by changed rules: 70.0 (B) becomes 42.0 (Z). Why: the moderators asked',
    ]);
    // Once they are there, nothing more is moved by them.
    await release({});
    expect(await notices()).toHaveLength(1);
    expect((await preview({ moveRules: true })).lines).toEqual([]);
  });

  it('say to staff who reads one, where standings are shown', async () => {
    const readers = async (): Promise<string[]> =>
      (await school.teacher.must<{ readers: string[] }>('GET', '/books/fens')).readers.sort();
    expect(await readers()).toEqual([school.adaId, school.benId].sort());
    await school.teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: false });
    expect(await readers()).toEqual([]);
  });
});

describe('kept trials', () => {
  const write = (title: string): TrialWrite => ({ title, body: { version: 1, rules: RULES, items: {}, supposed: [] } });
  const list = (who = school.teacher): Promise<KeptTrials> => who.must<KeptTrials>('GET', '/books/fens/trials');

  it('are each person’s own, kept as they were, renamed and dropped', async () => {
    await school.teacher.must('PUT', '/books/fens/trials/one', write('One'));
    await school.teacher.must('PUT', '/books/fens/trials/two', write('Two'));
    await school.teacher.must('PUT', '/books/fens/trials/one', write('First'));
    expect((await list()).map((t) => [t.id, t.title, t.body.rules])).toEqual([
      ['one', 'First', RULES],
      ['two', 'Two', RULES],
    ]);
    expect(await list(school.coTeacher)).toEqual([]);
    await school.teacher.must('DELETE', '/books/fens/trials/one', {});
    expect((await list()).map((t) => t.id)).toEqual(['two']);
  });

  it('are refused beyond twenty, and what is no trial is', async () => {
    for (let n = 0; n < 19; n++) await school.coTeacher.must('PUT', `/books/fens/trials/t${n}`, write(`T${n}`));
    expect((await school.coTeacher.send('PUT', '/books/fens/trials/t19', write('T19'))).status).toBe(200);
    const more = await school.coTeacher.send<{ detail: string }>('PUT', '/books/fens/trials/t20', write('T20'));
    expect([more.status, more.body.detail]).toEqual([
      400,
      '20 trials are kept already. Drop one first; nothing was kept.',
    ]);
    expect((await school.coTeacher.send('PUT', '/books/fens/trials/t1', write('Again'))).status).toBe(200);
    expect((await school.coTeacher.send('PUT', '/books/fens/trials/t1', { title: '', body: {} })).status).toBe(400);
    expect(await list(school.coTeacher)).toHaveLength(20);
  });
});
