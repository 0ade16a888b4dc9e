import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { computeBook } from '@core/calculation/result';
import type { BookDocument } from '@core/book/document';
import type { AssessmentList } from '@contract/assessments';
import { operation } from '../../testing/person';
import { RULES, testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 15 });
  await school.put('moss', school.benId, 0, { kind: 'set', points: 7 });
});
afterAll(() => school.close());

const all = () => school.teacher.must<AssessmentList>('GET', '/books/fens/assessments');
const one = async (id: string) => (await all()).find((a) => a.id === id)!;
const document = async () =>
  (await school.teacher.must<{ document: BookDocument }>('GET', '/books/fens/sheet')).document;
const standings = async () => computeBook(await document()).students.map((s) => s.percent);
const patch = async (id: string, changes: object, op = operation()) =>
  school.teacher.send('PATCH', `/books/fens/assessments/${id}`, {
    operation: op,
    version: (await one(id)).version,
    reason: '',
    tell: null,
    ...changes,
  });
const scores = async () =>
  (await document()).entries
    .filter((e) => e.item === 'moss')
    .map((e) => e.attempts?.[0]?.score ?? e.set)
    .sort();

describe('an assessment', () => {
  it('whose points change asks what becomes of its scores, and does the one chosen, once', async () => {
    const asked = await patch('moss', { points: 30 });
    expect([asked.status, asked.body['detail']]).toEqual([
      400,
      expect.stringContaining('2 students have a score on Moss'),
    ]);
    expect((await one('moss')).points).toBe(20);

    const op = operation();
    const tell = 'Moss is out of 30 now.';
    const kept = await patch('moss', { points: 30, scores: 'keep-percentages', reason: 'a longer walk', tell }, op);
    expect(kept.body).toMatchObject({ cells: 2, told: 2, assessment: { points: 30, scored: 2 } });
    expect(await scores()).toEqual([10.5, 22.5]);
    // Tried again it is done already.
    await patch('moss', { points: 30, scores: 'keep-percentages', tell }, op);
    expect(await scores()).toEqual([10.5, 22.5]);

    const notices = await school.ada.must<{ id: string; text: string; seen: boolean }[]>('GET', '/my/notices');
    expect(notices.map((n) => [n.text, n.seen])).toEqual([[tell, false]]);
    await school.ben.must('PUT', '/my/notices/seen', { notices: [notices[0]!.id] });
    expect((await school.ada.must<{ seen: boolean }[]>('GET', '/my/notices'))[0]!.seen).toBe(false);
    await school.ada.must('PUT', '/my/notices/seen', { notices: [notices[0]!.id] });
    expect((await school.ada.must<{ seen: boolean }[]>('GET', '/my/notices'))[0]!.seen).toBe(true);
  });

  it('is put back with its scores from the journal, as one', async () => {
    const { sets } = await school.teacher.must<{ sets: { batch: string; kind: string; undoable: boolean }[] }>(
      'GET',
      '/books/fens/journal',
    );
    const set = sets.find((s) => s.kind === 'assessment')!;
    expect(set.undoable).toBe(true);
    const back = await school.teacher.send('POST', `/books/fens/journal/${set.batch}/put-back`, {
      operation: operation(),
      leaveLater: false,
      reason: 'was right before',
    });
    expect(back.status).toBe(200);
    expect((await one('moss')).points).toBe(20);
    expect(await scores()).toEqual([15, 7]);
  });

  it('keeps its points where that is chosen', async () => {
    await patch('moss', { points: 40, scores: 'keep-points' });
    expect(await scores()).toEqual([15, 7]);
    await patch('moss', { points: 20, scores: 'keep-points' });
  });

  it('is not overwritten by who saw it before somebody else changed it', async () => {
    const { version } = await one('reed');
    await patch('reed', { title: 'Reed count' });
    const stale = await school.coTeacher.send('PATCH', '/books/fens/assessments/reed', {
      operation: operation(),
      version,
      title: 'Reeds',
      reason: '',
      tell: null,
    });
    expect([stale.status, (stale.body['now'] as { title: string }).title]).toEqual([409, 'Reed count']);
  });

  it('scored as done or not brings its marks into the rules', async () => {
    await patch('test', { more: { marks: 'done-or-not' } });
    expect((await document()).rules?.marks?.['done-or-not']?.map((m) => m.label)).toEqual(['Done', 'Not done']);
    const marked = await school.put('test', school.cleoId, 0, { kind: 'mark', label: 'Done' });
    expect(marked.status).toBe(200);
    // The marks cannot be taken from it while somebody has one: the book would not be sound.
    for (const more of [{}, { marks: 'pass-or-fail' }])
      expect((await patch('test', { more })).body['detail']).toMatch(/^1 student has “Done” on Test/);
    const { marks: _marks, ...kinds } = (await document()).rules!;
    const unmarked = await school.teacher.send('PUT', '/books/fens/rules', {
      operation: operation(),
      version: 2,
      reason: '',
      rules: { ...RULES, rules: { ...kinds } },
    });
    expect(unmarked.status).toBe(400);
  });

  it.each([
    ['an unknown category', { category: 'nowhere-at-all', more: { late: 'no-such-rule' } }],
    ['a key that makes it another item', { more: { id: 'other' } }],
    ['a curve without points', { more: { curve: { kind: 'line', through: [[1, 1]] } } }],
    ['no points where it counts', { points: 0, scores: 'keep-points' }],
  ])('with %s is refused, and stays what it was', async (_what, changes) => {
    const before = await one('moss');
    const answer = await patch('moss', changes);
    expect(answer.status).toBe(400);
    expect(await one('moss')).toEqual(before);
  });

  it('is put away with its scores and comes back with them; what students see stays', async () => {
    const before = await standings();
    await patch('moss', { archived: true });
    expect((await document()).entries.some((e) => e.item === 'moss')).toBe(false);
    const refused = await school.put('moss', school.adaId, 1, { kind: 'score', points: 1 });
    expect(refused.status).toBe(400);
    await patch('moss', { archived: false });
    expect(await standings()).toEqual(before);
    await school.release('moss', [school.adaId]);
    const seen = await patch('moss', { archived: true });
    expect(seen.body['detail']).toMatch(/Withdraw it/);
  });

  it('is deleted only where nobody ever had anything on it', async () => {
    const gone = async (id: string) =>
      school.teacher.send('DELETE', `/books/fens/assessments/${id}`, {
        operation: operation(),
        version: (await one(id)).version,
      });
    expect((await gone('moss')).body['detail']).toMatch(/Put it away/);
    expect((await gone('reed')).status).toBe(200);
    expect((await all()).map((a) => a.id)).not.toContain('reed');
  });

  it('moves in the order and between categories, and the order is put back', async () => {
    const order = (await all()).map((a) => a.id);
    const write = async (ids: string[], moves: object[] = []) =>
      school.teacher.send('PUT', '/books/fens/assessment-order', { operation: operation(), order: ids, moves });
    expect((await write(order.slice(1))).status).toBe(409);
    const turned = [...order].reverse();
    const { version } = await one('moss');
    expect((await write(turned, [{ assessment: 'moss', version, category: 'tests' }])).status).toBe(200);
    expect((await all()).map((a) => [a.id, a.category])).toEqual(
      turned.map((id) => [id, id === 'moss' ? 'tests' : expect.any(String)]),
    );
    const { sets } = await school.teacher.must<{ sets: { batch: string; kind: string }[] }>(
      'GET',
      '/books/fens/journal',
    );
    await school.teacher.must('POST', `/books/fens/journal/${sets.find((s) => s.kind === 'order')!.batch}/put-back`, {
      operation: operation(),
      leaveLater: false,
      reason: '',
    });
    expect((await all()).map((a) => a.id)).toEqual(order);
    expect((await one('moss')).category).toBe('work');
  });

  it('is copied into another book of one’s own, without rules that it does not have', async () => {
    await school.office.must('POST', '/books', {
      id: 'banks',
      term: 'autumn',
      title: 'Banks',
      sections: [],
      staff: [{ login: 'teacher', role: 'teacher' }],
      rules: { from: 'fens' },
    });
    await patch('moss', { more: { late: 'steady', sectionDates: { north: { due: '2026-10-12T16:00:00Z' } } } });
    const op = operation();
    const copy = (book: string) =>
      school.teacher.send('POST', '/books/fens/assessments/moss/copies', {
        operation: op,
        book,
        category: 'work',
        dates: true,
      });
    const made = await copy('banks');
    expect(made.body).toMatchObject({ left: ['its dates by section'] });
    await copy('banks');
    const there = await school.teacher.must<AssessmentList>('GET', '/books/banks/assessments');
    expect(there.map((a) => [a.title, a.points, a.more])).toEqual([['Moss', 20, { late: 'steady' }]]);
    // Somebody else's book is not there.
    expect((await copy('hills')).status).toBe(404);
  });

  it('is kept as a template of the person alone', async () => {
    const body = { points: 10, takesWork: false, category: 'work', more: { counts: false } };
    await school.teacher.must('PUT', '/templates/talk', { title: 'Talk', body });
    expect(await school.teacher.must('GET', '/templates')).toEqual([{ id: 'talk', title: 'Talk', body }]);
    expect(await school.coTeacher.must('GET', '/templates')).toEqual([]);
    expect(
      (await school.teacher.send('PUT', '/templates/x', { title: 'X', body: { ...body, more: { id: 'y' } } })).status,
    ).toBe(400);
    await school.teacher.must('DELETE', '/templates/talk');
    expect(await school.teacher.must('GET', '/templates')).toEqual([]);
  });
});
