import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { StudentBook, StudentBooks } from '@contract/statements';
import type { DueList } from '@contract/work/submissions';
import type { Thread } from '@contract/work/threads';
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

it('a student who has left reads receipts, files, answers and what was released, and does nothing any more', async () => {
  const id = await handing.assessment({}, { attempts: null });
  const thread = `${handing.at(id)}/thread`;
  await school.ada.must('POST', thread, { operation: operation(), seen: 0, text: 'When is the bus?' });
  const bytes = randomBytes(2_000);
  await handing.addFile(id, 'map.bin', bytes);
  const s = await handing.handIn(id);
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 12 });
  await school.release('moss', [school.adaId]);
  const leaves = { operation: operation(), enrolments: [school.adaId], left: true, reason: 'moved away' };
  await school.teacher.must('PATCH', '/books/fens/enrolments', leaves);

  const [book] = await school.ada.must<StudentBooks>('GET', '/my/books');
  expect(book).toMatchObject({ book: 'fens', left: true, released: 1 });
  const { work } = await school.ada.must<StudentBook>('GET', '/my/books/fens');
  expect(work.find((w) => w.id === 'moss')!.score).toMatchObject({ earned: '12' });
  const page = await handing.page(id);
  expect(page).toMatchObject({ left: true, shut: expect.stringContaining('not in this book any more') as string });
  expect(page.before[0]!.receipt).toBe(s.receipt);
  const file = `/my/books/fens/submissions/${s.id}/files/${s.files[0]!.id}`;
  expect((await school.ada.bytes(file)).equals(bytes)).toBe(true);
  expect((await school.ada.must<Thread>('GET', thread)).messages).toHaveLength(1);
  expect((await school.ada.must<DueList>('GET', '/my/due')).work).toEqual([]);

  for (const [method, path, body] of [
    ['PUT', `${handing.at(id)}/work`, { version: 0, typed: 'More.', link: '' }],
    ['POST', `${handing.at(id)}/files`, { id: 'f-late', name: 'late.txt', bytes: 1 }],
    ['POST', `${handing.at(id)}/hand-in`, handing.write(s)],
    ['POST', `${handing.at(id)}/take-back`, { operation: operation(), submission: s.id, version: s.version }],
    ['POST', thread, { operation: operation(), seen: 1, text: 'And now?' }],
  ] as const)
    expect((await school.ada.send(method, path, body)).status).toBe(404);
  // Of others they read no more than before.
  expect((await school.ben.send('GET', file)).status).toBe(404);
});
