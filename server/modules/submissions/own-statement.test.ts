import { afterAll, beforeAll, expect, it } from 'vitest';
import type { BookPage } from '@contract/books';
import type { JournalPage } from '@contract/history';
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

const setBook = (statement: string | null) =>
  school.teacher.must('PATCH', '/books/fens', { operation: operation(), statement });
const ticked = async (id: string): Promise<string | undefined> => (await handing.page(id)).settings.statement;

it('what students tick is the school’s, the book’s, or the assessment’s words, and each may say that nothing is', async () => {
  const plain = await handing.assessment({}, { attempts: null });
  const own = await handing.assessment({}, { statement: 'Mine alone.' });
  const none = await handing.assessment({}, { statement: '' });
  expect(await Promise.all([plain, own, none].map(ticked))).toEqual([undefined, 'Mine alone.', undefined]);
  await school.office.must('PATCH', '/school', { statement: ' As the school says. ' });
  expect(await Promise.all([plain, own, none].map(ticked))).toEqual(['As the school says.', 'Mine alone.', undefined]);
  await setBook('As the book says.');
  expect(await ticked(plain)).toBe('As the book says.');
  await setBook('');
  expect(await ticked(plain)).toBeUndefined();
  await setBook(null);
  expect(await ticked(plain)).toBe('As the school says.');
  // Setting the other thing of the school leaves this.
  await school.office.must('PATCH', '/school', { wantsReasons: false });
  expect(await school.teacher.must<BookPage>('GET', '/books/fens')).toMatchObject({
    ...{ statement: null, schoolStatement: 'As the school says.' },
  });
});

it('what was ticked is kept word for word, though the words change afterwards; what was read before is refused', async () => {
  await setBook('First words.');
  const id = await handing.assessment({}, { attempts: null });
  await handing.addFile(id, 'a.txt', Buffer.from('a'));
  const begun = (await handing.page(id)).begun!;
  await setBook('Second words.');
  const refused = await school.ada.send<{ detail: string }>('POST', `${handing.at(id)}/hand-in`, {
    ...handing.write(begun),
    statement: 'First words.',
  });
  expect([refused.status, refused.body.detail]).toEqual([400, 'Tick this first: “Second words.”']);
  const handed = { ...handing.write(begun), statement: 'Second words.' };
  await school.ada.must('POST', `${handing.at(id)}/hand-in`, handed);
  await setBook(null);
  expect((await handing.page(id)).before[0]!.statement).toBe('Second words.');
});

it('a book’s words are in its journal and go along into a copy; students and markers set none', async () => {
  await setBook('Words to keep.');
  await setBook('Words by mistake.');
  const { sets } = await school.teacher.must<JournalPage>('GET', '/books/fens/journal?kind=settings');
  expect(sets[0]!.shown[0]).toMatchObject({ becomes: '{"statement":"Words by mistake."}' });
  await school.teacher.must('POST', '/books/fens/copies', {
    ...{ id: 'fens-again', term: 'autumn', title: 'Fens again', assessments: false, shiftDays: 0 },
  });
  const copy = await school.teacher.must<BookPage>('GET', '/books/fens-again');
  expect(copy.statement).toBe('Words by mistake.');
  for (const who of [school.marker, school.reviewer, school.ada])
    expect((await who.send('PATCH', '/books/fens', { operation: operation(), statement: 'x' })).status).toBe(403);
  expect((await school.teacher.send('PATCH', '/school', { statement: 'x' })).status).toBe(403);
});
