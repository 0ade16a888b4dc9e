import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Sheet } from '@contract/books';
import { allRoutes } from '../../routes';
import { journalKinds } from '../../journal-kinds';
import { damageRules } from '../../testing/sql';
import { unopened } from '../../testing/open-everything';
import { operation, Person } from '../../testing/person';
import { PASSWORD, testSchool, type TestSchool } from '../../testing/school';
import { Live } from '../presence';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 12 });
  await school.put('moss', school.benId, 0, { kind: 'score', points: 15 });
  await school.release('moss', null);
  await school.teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: true });
});
afterAll(() => school.close());

/** Writes past the server, as an earlier version or a repaired disk would have left it. */
const spoil = (sql: string): Promise<unknown> => school.pool.query(sql.replace('{ada}', school.adaId));

it.each([
  [
    'a day beyond all calendars',
    `update entry set due_at = '9999-12-31', version = version + 1 where enrolment = '{ada}'`,
    /moment/,
  ],
  [
    'a mark that nobody knows',
    `update attempt set score = null, mark = 'Splendid' where enrolment = '{ada}'`,
    /no named marks/,
  ],
  [
    'a moment before all calendars',
    `update attempt set received_at = '0999-01-01' where enrolment = '{ada}'`,
    /moment/,
  ],
])('%s costs its cell, with its reason, and nothing else; the next score mends it', async (_what, sql, reason) => {
  const now = () => school.teacher.must<Sheet>('GET', '/books/fens/sheet');
  await spoil(sql);
  // Another stamp of the book's row, as every change has.
  await spoil(`update book set title = title where id = 'fens'`);
  const { faulty, document } = await now();
  expect(faulty).toEqual([{ enrolment: school.adaId, assessment: 'moss', fault: expect.stringMatching(reason) }]);
  expect(document.entries.find((e) => e.student === school.adaId && e.item === 'moss')).toEqual({
    student: school.adaId,
    item: 'moss',
    state: 'awaiting',
  });
  const live = new Live(journalKinds, null as never, '', () => undefined);
  const as = (login: string) => Person.signedIn(school.address, login, PASSWORD);
  expect(
    await unopened(
      allRoutes(school.pool, live, () => undefined),
      as,
    ),
  ).toEqual([]);
  // It is not released as it is; the others are.
  const release = (enrolments: string[]) =>
    school.teacher.send('POST', '/books/fens/release', { operation: operation(), assessment: 'moss', enrolments, moveRules: true }); // prettier-ignore
  const refused = await release([school.adaId]);
  expect([refused.status, refused.body['detail']]).toEqual([400, expect.stringMatching(/cannot be read/)]);
  expect((await release([school.benId])).status).toBe(200);
  const mended = await school.put('moss', school.adaId, (await versionOf('moss', school.adaId))!, { kind: 'score', points: 12 }); // prettier-ignore
  expect([mended.status, mended.body['entry']]).toEqual([200, expect.objectContaining({ attempts: [expect.objectContaining({ score: 12 })] })]); // prettier-ignore
  expect((await now()).faulty).toEqual([]);
});

it('rules that the disk has damaged are read from the journal; without it everything of the book says what is wrong', async () => {
  const sheet = () => school.teacher.send('GET', '/books/fens/sheet');
  const before = (await sheet()).body;
  const { rows } = await school.pool.query<{ rules: string }>(`select rules from rules_version where book = 'fens'`);
  const live = new Live(journalKinds, null as never, '', () => undefined);
  const as = (login: string) => Person.signedIn(school.address, login, PASSWORD);
  for (const damaged of [rows[0]!.rules.slice(0, 40), 'null', '{"scale":7}', '{"tree":{}}']) {
    await damageRules(school.pool, 'fens', damaged);
    expect((await sheet()).body).toEqual(before);
    expect(
      await unopened(
        allRoutes(school.pool, live, () => undefined),
        as,
      ),
    ).toEqual([]);
    // A score is kept.
    const version = (await versionOf('moss', school.benId))!;
    expect((await school.put('moss', school.benId, version, { kind: 'score', points: 15 })).status).toBe(200);
    Object.assign(before, (await sheet()).body);
  }
  await damageRules(school.pool, 'fens', '{', 'journal');
  const refused = await sheet();
  expect([refused.status, refused.body['detail']]).toEqual([500, expect.stringMatching(/^Version 1 of this book’s rules cannot be read/)]); // prettier-ignore
  await damageRules(school.pool, 'fens', rows[0]!.rules);
  expect((await sheet()).body).toEqual(before);
});

async function versionOf(assessment: string, enrolment: string): Promise<number | undefined> {
  const { rows } = await school.pool.query<{ version: number }>(
    'select version from entry where assessment = $1 and enrolment = $2',
    [assessment, enrolment],
  );
  return rows[0]?.version;
}
