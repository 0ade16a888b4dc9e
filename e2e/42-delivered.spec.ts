import { expect, test, type Tally } from './tally';

const SOIL = 'soil-science-1';
const ORCHARD = 'orchard-practice';

test('those of a section, and those finished, are picked by a word; one thing is said to all; who has not opened what came back is told again', async ({
  page,
  tally,
  another,
}) => {
  const sectionB = await tally.rows<{ login: string; name: string }>(
    `select p.login, p.family || ', ' || p.given as name from enrolment e join section s on s.school = e.school and s.book = e.book and s.id = e.section
       join person p on p.school = e.school and p.id = e.person
       join attempt c on c.school = e.school and c.book = e.book and c.enrolment = e.id and c.assessment = 'check-3'
     where e.book = $1 and s.title = 'Lab B' and c.score is not null order by p.family, p.given`,
    [SOIL],
  );
  const [reader, sleeper] = [sectionB[0]!, sectionB.at(-1)!];
  const student = await another();
  await tally.letIn(student, reader.login);
  await tally.navigate(student, `/my/${SOIL}?slip=check-3`);
  await expect(student.getByText('Your score stands here once your teacher has released it.')).toBeVisible();

  await tally.letIn(page, 'brandvold');
  await tally.navigate(page, `/book/${SOIL}/release?assessment=check-3`);
  const aside = page.locator('aside');
  // 112 scores and three who are excused.
  await aside.getByRole('button', { name: 'new and finished' }).click();
  await expect(aside).toContainText('115 of 120 students picked');
  await aside.getByRole('button', { name: 'Lab B', exact: true }).click();
  const [{ n: inB }] = (await tally.rows<{ n: number }>(
    `select count(*)::int as n from enrolment e join section s on s.school = e.school and s.book = e.book and s.id = e.section
     where e.book = $1 and s.title = 'Lab B' and e.left_at is null`,
    [SOIL],
  )) as [{ n: number }];
  await expect(aside).toContainText(`${inB} of 120 students picked`);
  await page.keyboard.press('Control+Enter');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Nobody sees anybody else’s.');
  await dialog.getByLabel('To everybody of this release, if you like:').fill('Well measured, all of you.');
  await dialog.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(dialog).toHaveCount(0);

  // Their pages follow; what reached whom stands beside each.
  await expect(student.locator('lt-slip-view')).toContainText('released 24 Nov');
  await expect(student.locator('lt-slip-view')).toContainText('Well measured, all of you.');
  const row = (name: string) => page.locator('main tbody tr', { hasText: name });
  await expect(row(reader.name)).toContainText('opened 24 Nov');
  await expect(row(sleeper.name)).toContainText('told');
  const told = async (login: string) =>
    (
      await tally.rows<{ n: number }>(
        `select count(*)::int as n from notice n join person p on p.school = n.school and p.id = n.person
         where p.login = $1 and n.body like '%Check 3%'`,
        [login],
      )
    )[0]!.n;
  await expect(async () => expect([await told(reader.login), await told(sleeper.login)]).toEqual([1, 1])).toPass();
  await aside.getByRole('button', { name: 'Lab B', exact: true }).click();
  await aside.getByRole('button', { name: /^Tell \d+ again$/ }).click();
  await expect(page.locator('footer output')).toContainText('told again');
  await expect(async () => expect([await told(reader.login), await told(sleeper.login)]).toEqual([1, 2])).toPass();
});

/** A look is made once a real minute, however the school's clock is turned: the minute is over now. */
const lookNow = (tally: Tally): Promise<unknown> => tally.rows('delete from planned_release_look');

test('what is planned for when all are done goes out by itself, ten minutes after the last change @long', async ({
  page,
  tally,
  another,
}) => {
  const [{ login }] = (await tally.rows<{ login: string }>(
    `select p.login from enrolment e join person p on p.school = e.school and p.id = e.person
     where e.book = $1 and e.left_at is null order by p.family limit 1`,
    [ORCHARD],
  )) as [{ login: string }];
  const student = await another();
  await tally.letIn(student, login);
  await tally.navigate(student, `/my/${ORCHARD}?slip=rootstock`);
  await expect(student.getByText('Your score stands here once your teacher has released it.')).toBeVisible();

  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${ORCHARD}/release?assessment=rootstock`);
  await expect(page.locator('aside')).toContainText('18 of 18 students picked');
  await page.keyboard.press('Control+Enter');
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('when all are done').click();
  await expect(dialog).toContainText('Ten minutes after the last change');
  await dialog.getByRole('button', { name: 'Plan it for then' }).click();
  const planned = page.locator('lt-planned-list');
  await expect(planned).toContainText('when all are done');
  await expect(planned).toContainText('Rootstock ID: score');

  // A score that is given a moment later holds it up; once that has rested it is done, and whoever looks sees so.
  await tally.setClock('2026-11-24T10:00:00Z');
  const teacher = await tally.as('aldous');
  const [cell] = await tally.rows<{ enrolment: string; version: number }>(
    `select enrolment, version from entry where book = $1 and assessment = 'rootstock' limit 1`,
    [ORCHARD],
  );
  await teacher('PUT', `/books/${ORCHARD}/entries/rootstock/${cell!.enrolment}`, {
    version: cell!.version,
    change: { kind: 'score', points: 6 },
  });
  await tally.setClock('2026-11-24T10:09:00Z');
  await lookNow(tally);
  await expect(async () => expect(await tally.rows('select 1 from planned_release_look')).toHaveLength(1)).toPass();
  await expect(planned).toContainText('when all are done');
  await tally.setClock('2026-11-24T10:10:30Z');
  await lookNow(tally);
  await expect(student.locator('lt-slip-view')).toContainText('released 24 Nov', { timeout: 60_000 });
  await expect(planned.getByRole('listitem')).toHaveCount(0, { timeout: 30_000 });
  const rows = await tally.rows<{ enrolment: string; n: number }>(
    `select enrolment, count(*)::int as n from released_entry where book = $1 and assessment = 'rootstock' group by enrolment`,
    [ORCHARD],
  );
  expect([rows.length, rows.every((r) => r.n === 1)]).toEqual([18, true]);
});
