import { afterAll, beforeAll, expect, it } from 'vitest';
import type { LiveEvent } from '@contract/presence';
import type { Arrivals, SubmissionHistory } from '@contract/work/submissions';
import { HandingIn } from '../../testing/hand-in';
import { listen, operation, type Person } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
let handing: HandingIn;
beforeAll(async () => {
  school = await testSchool();
  handing = new HandingIn(school);
});
afterAll(() => school.close());

it('who of the staff opened a work is noted once for each; what is only fetched ahead is not yet read', async () => {
  const id = await handing.assessment({}, { attempts: null });
  await handing.addFile(id, 'notes.txt', Buffer.from('notes'));
  const s = await handing.handIn(id);
  const file = `/books/fens/submissions/${s.id}/files/${s.files[0]!.id}`;
  const openedBy = async (who: Person): Promise<string[]> => {
    const { students } = await who.must<Arrivals>('GET', `/books/fens/assessments/${id}/arrivals`);
    return students
      .find((x) => x.enrolment === school.adaId)!
      .openedBy.map((o) => `${o.by}${o.through ? ' through' : ''}`);
  };
  expect((await school.marker.bytes(`${file}?ahead`)).toString()).toBe('notes');
  expect(await openedBy(school.marker)).toEqual([]);
  const opened = (who: Person) => who.send('POST', `/books/fens/submissions/${s.id}/opened`, {});
  for (const who of [school.marker, school.marker, school.teacher]) expect((await opened(who)).status).toBe(200);
  expect(await openedBy(school.marker)).toEqual(['you', 'S. teacher']);
  expect(await openedBy(school.reviewer)).toEqual(['S. marker', 'S. teacher']);
  // Looked through, once, and every open list is told.
  const told = await listen<LiveEvent>(school.teacher, '/events?book=fens');
  await told.until((e) => e.kind === 'hello');
  for (let n = 0; n < 2; n++)
    await school.marker.must('POST', `/books/fens/submissions/${s.id}/opened`, { through: true });
  const news = { kind: 'opened', assessment: id, enrolment: school.adaId, work: s.id, by: 'S. marker', through: true };
  expect(await told.until((e) => e.kind === 'opened')).toMatchObject(news);
  expect(told.events.filter((e) => e.kind === 'opened')).toHaveLength(1);
  told.close();
  expect(await openedBy(school.marker)).toEqual(['you through', 'S. teacher']);
  const history = await school.teacher.must<SubmissionHistory>('GET', `/books/fens/submissions/${s.id}/history`);
  expect(history.filter((h) => h.kind === 'opened').map((h) => h.by)).toEqual(['S. marker', 'S. teacher']);
  expect(history.some((h) => h.kind === 'fetched')).toBe(false);
  // Nobody else notes anything of it, and the office cannot read it without a trace.
  for (const who of [school.ada, school.ben, school.stranger])
    expect((await opened(who)).status).toBeGreaterThanOrEqual(403);
  await school.office.bytes(`${file}?ahead`);
  expect(await openedBy(school.teacher)).toEqual(['U. Office', 'S. marker through', 'you']);
});

it('fetched ahead it can still be taken back; opened it cannot; what is only begun is nobody’s to open', async () => {
  const id = await handing.assessment({}, { attempts: null });
  await handing.addFile(id, 'a.txt', Buffer.from('a'));
  const begun = (await handing.page(id)).begun!;
  const open = (submission: string) => school.teacher.send('POST', `/books/fens/submissions/${submission}/opened`, {});
  expect((await open(begun.id)).status).toBe(404);
  const takeBack = (s: { id: string; version: number }) =>
    school.ada.send('POST', `${handing.at(id)}/take-back`, { operation: operation(), submission: s.id, version: s.version }); // prettier-ignore
  const first = await handing.handIn(id);
  await school.teacher.bytes(`/books/fens/submissions/${first.id}/files/${first.files[0]!.id}?ahead`);
  expect((await takeBack(first)).status).toBe(200);
  await handing.addFile(id, 'b.txt', Buffer.from('b'));
  const second = await handing.handIn(id);
  expect((await open(second.id)).status).toBe(200);
  expect((await takeBack(second)).status).toBe(403);
});
