import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { BookPage } from '@contract/books';
import { HandingIn } from '../../testing/hand-in';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
let handing: HandingIn;
beforeAll(async () => {
  school = await testSchool();
  handing = new HandingIn(school);
});
afterAll(() => school.close());

it('an assessment is marked without names where its book or its school says so, and a copy of the book anew', async () => {
  const hides = async (work: object = {}): Promise<boolean> => {
    const made = await handing.assessment({}, work);
    const page = await school.teacher.must<BookPage>('GET', '/books/fens');
    return page.assessments.find((a) => a.id === made)!.namesHidden;
  };
  expect(await hides()).toBe(false);
  await school.office.must('PATCH', '/school', { hidesNames: true });
  expect(await hides()).toBe(true);
  expect(await hides({ namesHidden: false })).toBe(false);
  await school.teacher.must('PATCH', '/books/fens', { operation: operation(), hidesNames: false });
  expect(await hides()).toBe(false);
  await school.office.must('PATCH', '/school', { hidesNames: false });
  await school.teacher.must('PATCH', '/books/fens', { operation: operation(), hidesNames: true });
  expect(await hides()).toBe(true);
  // In the book itself they were shown since.
  const id = await handing.assessment({}, { namesHidden: true });
  const work = { namesHidden: true, namesShown: true };
  const shown = { operation: operation(), version: 1, reason: '', tell: null, work };
  await school.teacher.must('PATCH', `/books/fens/assessments/${id}`, shown);
  const copy = {
    id: `copy-${randomUUID().slice(0, 8)}`,
    term: 'autumn',
    title: 'Fens again',
    assessments: true,
    shiftDays: 0,
  };
  await school.teacher.must('POST', '/books/fens/copies', copy);
  const page = await school.teacher.must<BookPage>('GET', `/books/${copy.id}`);
  expect(page.assessments.find((a) => a.id === id)!.namesHidden).toBe(true);
  expect(page.hidesNames).toBe(true);
});

it('names are hidden only where work is handed in here: neither made, nor changed to be anything else', async () => {
  const path = '/books/fens/assessments';
  const bare = { operation: operation(), id: 'posters', title: 'Posters', category: 'work', points: 5, due: null, closes: null, more: {} }; // prettier-ignore
  const send = (method: string, to: string, body: object) => school.teacher.send<{ detail?: string }>(method, to, body);
  const refused = { status: 400, detail: expect.stringContaining('only where work is handed in here') as string };
  const answer = async (sent: ReturnType<typeof send>) => {
    const { status, body } = await sent;
    return { status, detail: body.detail };
  };
  expect(await answer(send('POST', path, { ...bare, takesWork: false, work: { namesHidden: true } }))).toMatchObject(refused); // prettier-ignore
  const made = { ...bare, operation: operation(), takesWork: true, work: { namesHidden: true } };
  expect((await send('POST', path, made)).status).toBeLessThan(300);
  const room = { operation: operation(), version: 1, takesWork: false, work: { namesHidden: true }, reason: '', tell: null }; // prettier-ignore
  expect(await answer(send('PATCH', `${path}/posters`, room))).toMatchObject(refused);
});
