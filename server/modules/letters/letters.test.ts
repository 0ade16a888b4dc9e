import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { JournalPage } from '@contract/history';
import type { Letters, LetterWritten } from '@contract/mail';
import type { Notices } from '@contract/notices';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const write = (more: object = {}) => ({
  operation: operation(),
  assessment: 'test',
  enrolments: [school.adaId, school.benId],
  subject: '{assessment} is due',
  body: 'Dear {given},\n{assessment} is due {due}.',
  ...more,
});
const mails = async () =>
  (
    await school.pool.query<{ login: string; subject: string; body: string }>(
      `select p.login, m.subject, m.body from mail m join person p on p.school = m.school and p.id = m.person
       where m.kind = 'letter' order by m.made_at, p.login`,
    )
  ).rows;

describe('a letter', () => {
  it('is read by each here and by mail, with their own name and date, and stands in the journal once for each', async () => {
    await school.put('test', school.benId, 0, { kind: 'due', dueAt: '2026-12-12T12:00:00Z' });
    const sent = write();
    const answer = await school.teacher.must<LetterWritten>('POST', '/books/fens/letters', sent);
    expect(answer.written).toBe(2);
    // Sent again because its answer was lost: nobody is written to twice.
    expect(await school.teacher.must('POST', '/books/fens/letters', sent)).toEqual(answer);
    expect(await mails()).toEqual([
      { login: 'ada', subject: 'Test is due', body: 'Dear Ada,\nTest is due 10 Dec 17:00.' },
      { login: 'ben', subject: 'Test is due', body: 'Dear Ben,\nTest is due 12 Dec 12:00.' },
    ]);
    const [notice] = await school.ada.must<Notices>('GET', '/my/notices');
    expect(notice).toMatchObject({ kind: 'letter', path: '/my/fens/test', by: 'S. teacher' });
    expect(notice!.text).toBe('Test is due\n\nDear Ada,\nTest is due 10 Dec 17:00.');
    const page = await school.teacher.must<JournalPage>('GET', '/books/fens/journal?kind=letters');
    expect(page.sets.map((s) => [s.set, s.lines, s.undoable])).toEqual([['letter', 2, false]]);
    // Whose words they were is beside the journal, not in it.
    expect(JSON.stringify(page)).not.toContain('Dear');
  });

  it('is listed with what became of each copy', async () => {
    await school.pool.query(`update mail set state = 'refused', fault = 'no' where subject = 'Test is due'
      and person = (select id from person where login = 'ben')`);
    const [letter] = await school.reviewer.must<Letters>('GET', '/books/fens/letters?assessment=test');
    expect(letter).toMatchObject({ subject: '{assessment} is due', by: 'S. teacher' });
    expect(letter!.copies.map((c) => [c.enrolment, c.state]).sort()).toEqual(
      [
        [school.adaId, 'waiting'],
        [school.benId, 'refused'],
      ].sort(),
    );
    expect(await school.teacher.must<Letters>('GET', '/books/fens/letters?assessment=moss')).toEqual([]);
  });

  it('names nothing that it may not: no score, no letter, and no date where it is about no assessment', async () => {
    const before = (await mails()).length;
    for (const [more, says] of [
      [{ body: 'You have {score}, {letter}.' }, /\{score\}, \{letter\} cannot be filled in/],
      [{ assessment: undefined }, /about no one assessment/],
      [{ assessment: 'nothing' }, /no such assessment/],
      [{ enrolments: [school.adaId, 'e-nobody'] }, /1 student of these is not in the book/],
    ] as const) {
      const answer = await school.teacher.send<{ detail: string }>('POST', '/books/fens/letters', write(more));
      expect(answer.status).toBeGreaterThanOrEqual(400);
      expect(answer.body.detail).toMatch(says);
    }
    expect((await mails()).length).toBe(before);
    await school.teacher.must('POST', '/books/fens/letters', write({ assessment: undefined, subject: 'On Friday', body: 'The bus goes at 8, {given}.' })); // prettier-ignore
    expect((await mails()).at(-1)!.body).toBe('The bus goes at 8, Ben.');
  });

  it('is written by the teachers of the book alone', async () => {
    for (const [who, status] of [
      [school.coTeacher, 200],
      [school.marker, 403],
      [school.reviewer, 403],
      [school.office, 403],
      [school.stranger, 404],
      [school.ada, 403],
    ] as const)
      expect((await who.send('POST', '/books/fens/letters', write())).status).toBe(status);
    expect((await school.stranger.send('GET', '/books/fens/letters')).status).toBe(404);
  });
});
