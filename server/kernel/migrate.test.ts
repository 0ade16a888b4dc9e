import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BookAnnotations } from '@contract/annotations';
import type { Template } from '@contract/assessments';
import type { Sheet } from '@contract/books';
import type { PolicyRollout } from '@contract/policy';
import type { KeptTrials } from '@contract/rules';
import type { StudentBook } from '@contract/statements';
import { Person } from '../testing/person';
import { PASSWORD } from '../testing/school';
import { serverOn, type TestServer } from '../testing/server';
import { idOfRollout } from '../testing/sql';
import { verifyJournals } from './journal/seals';

/** The rows of a small school as the version with twelve migrations left them, when tables were called otherwise. */
const BEFORE = readFileSync(new URL('../testing/version-12.sql', import.meta.url), 'utf8');

let server: TestServer;
let teacher: Person;
beforeAll(async () => {
  server = await serverOn(12, BEFORE);
  teacher = await Person.signedIn(server.address, 'teacher', PASSWORD);
});
afterAll(() => server.close());

describe('a school of the version before', () => {
  it('has its book, scores and states, and what students see of them', async () => {
    const sheet = await teacher.must<Sheet>('GET', '/books/fens/sheet');
    const held = sheet.document.entries.map(
      (e, i) => `${e.item}: ${e.attempts?.[0]?.score ?? e.state ?? 'nothing'}, ${sheet.releaseStates[i]}`,
    );
    expect(held.sort()).toEqual(['moss: 11.5, 1', 'moss: 16, 2', 'moss: nothing, 1', 'reed: excused, 0']);
    const ada = await Person.signedIn(server.address, 'ada', PASSWORD);
    const book = await ada.must<StudentBook>('GET', '/my/books/fens');
    expect(book.work.map((w) => [w.id, w.score?.earned ?? null])).toContainEqual(['moss', '15']);
    expect(book.standing).not.toBeNull();
  });

  it('has its notes, second looks, groups, views, templates and kept trials', async () => {
    const annotations = await teacher.must<BookAnnotations>('GET', '/books/fens/annotations');
    expect(annotations.notes).toMatchObject([
      { place: 'moss', note: { text: 'Ask about the second pit.' }, secondLookBy: 'S. teacher' },
    ]);
    expect(annotations.groups.map((g) => [g.title, g.members.length])).toEqual([['Boat crew', 2]]);
    expect(annotations.views).toEqual([{ id: 'v-1', title: 'Only drafts', query: 'only=draft' }]);
    expect((await teacher.must<Template[]>('GET', '/templates')).map((t) => t.title)).toEqual(['Talk']);
    const [trial] = await teacher.must<KeptTrials>('GET', '/books/fens/trials');
    expect([trial!.title, trial!.body.supposed[0]!.says]).toEqual(['Finer', 'Moss, 1 student: raised']);
  });

  it('has its school’s rules and what became of them in each book', async () => {
    const office = await Person.signedIn(server.address, 'office', PASSWORD);
    const id = await idOfRollout(server.pool);
    const rollout = await office.must<PolicyRollout>('GET', `/school-rules/rollouts/${id}`);
    expect(rollout.books.map((b) => b.state)).toEqual(['stays', 'stays']);
  });

  it('has its journal, sealed as it was, and goes on in it', async () => {
    for (const journal of await verifyJournals(server.pool)) expect(journal.faults).toEqual([]);
    const scores = async (): Promise<(number | undefined)[]> =>
      (await teacher.must<Sheet>('GET', '/books/fens/sheet')).document.entries.map((e) => e.attempts?.[0]?.score);
    expect(await scores()).toContain(16);
    // What was done last is put back first: beside the score there are a note and a group.
    for (let i = 0; i < 3 && !(await scores()).includes(15); i++)
      await teacher.must('POST', '/books/fens/undo', { operation: crypto.randomUUID() });
    expect(await scores()).toContain(15);
    expect(await scores()).not.toContain(16);
  });
});
