import { accessibilityFaults } from './axe';
import { expect, test } from './tally';

const BOOK = 'soil-science-1';

test('an assessment is marked without names by all who mark, until a teacher shows them to all at once @long', async ({
  page,
  tally,
  another,
}) => {
  const [lab] = await tally.rows<{ id: string; title: string }>(
    `select a.id, a.title from assessment a where a.book = $1 and a.takes_work and a.archived_at is null
       and exists (select 1 from submission s where s.book = a.book and s.assessment = a.id and s.state = 'handed-in')
       and not exists (select 1 from released_entry r where r.book = a.book and r.assessment = a.id)
     order by a.position limit 1`,
    [BOOK],
  );
  const people = await tally.rows<{ id: string; family: string }>(
    `select e.id, p.family from enrolment e join person p on p.school = e.school and p.id = e.person where e.book = $1`,
    [BOOK],
  );
  const noNames = (text: string): void =>
    expect(people.filter((p) => new RegExp(`\\b${p.family}\\b`).test(text))).toEqual([]);

  // Its teacher says so in its settings.
  await tally.letIn(page, 'brandvold');
  await tally.navigate(page, `/book/${BOOK}/assessments/${lab!.id}`);
  await page.getByLabel('Whether names are hidden while it is marked').click();
  await page.getByRole('option', { name: 'without names, until they are shown' }).click();
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer')).toContainText(`${lab!.title}: kept.`);

  // Its marker comes from the desk, into work of which nobody says whose it is.
  const marker = await another();
  const answers: string[] = [];
  marker.on('response', (r) => {
    if (r.url().includes(`${BOOK}~`)) void r.text().then((t) => answers.push(t)).catch(() => undefined); // prettier-ignore
  });
  await tally.letIn(marker, 'quigg');
  await tally.navigate(marker, '/desk');
  await marker
    .getByRole('link', { name: new RegExp(lab!.title) })
    .first()
    .click();
  await expect(marker).toHaveURL(new RegExp(`/book/${BOOK}~${lab!.id}/marking/${lab!.id}`));
  const heading = marker.getByRole('heading', { level: 1 });
  await expect(heading).toHaveText(/^Reed \d\d\d$/);
  await expect(marker.getByLabel('Score')).toBeVisible();
  const names = await marker.locator('aside li .name').allTextContents();
  expect(names).toHaveLength(people.length);
  expect(names).toEqual([...names].sort());
  // What its writer wrote into the work itself stands there as it is.
  await expect(marker.locator('lt-work-view')).toBeVisible();
  const around = await marker.evaluate(() => {
    const work = document.querySelector<HTMLElement>('lt-work-view')!;
    work.style.display = 'none';
    const text = document.body.innerText;
    work.style.display = '';
    return text;
  });
  expect(around).toContain('names are hidden');
  noNames(around);
  const reed = await heading.innerText();
  await marker.locator('body').press('7');
  await marker.keyboard.press('Enter');
  await expect(marker.getByRole('button', { name: new RegExp(`^${reed}`) })).toContainText('7.0');
  const scored = () =>
    tally.rows<{ enrolment: string; family: string }>(
      `select t.enrolment, p.family from attempt t join enrolment e on e.book = t.book and e.id = t.enrolment
         join person p on p.school = e.school and p.id = e.person
       where t.book = $1 and t.assessment = $2 and t.score = 7`,
      [BOOK, lab!.id],
    );
  await expect.poll(async () => (await scored()).length).toBe(1);
  // A marker cannot show them.
  await marker.locator('body').press('v');
  await expect(marker.locator('footer')).toContainText('until a teacher shows them');
  await expect(marker.getByRole('button', { name: 'show names …' })).toHaveCount(0);
  expect(await accessibilityFaults(marker)).toEqual([]);
  // On every page of this work: nobody.
  for (const path of [`assessments/${lab!.id}/arrivals`, `marking/${lab!.id}/sheet`]) {
    await tally.navigate(marker, `/book/${BOOK}/${path}`);
    await expect(marker.getByText(reed, { exact: true }).first()).toBeVisible();
    await expect(marker).toHaveURL(new RegExp(`/book/${BOOK}~${lab!.id}/${path}`));
    noNames(await marker.locator('main, [role=main]').first().innerText());
  }
  expect(people.filter((p) => answers.some((answer) => answer.includes(p.id)))).toEqual([]);
  expect(answers.length).toBeGreaterThan(5);

  // By name, in the ledger and the journal, it is not told.
  const { family } = (await scored())[0]!;
  await tally.navigate(page, `/book/${BOOK}/ledger?assessment=${lab!.id}`);
  const cell = page.getByRole('gridcell', { name: /hidden until shown/ }).first();
  await expect(cell).toBeVisible();
  await cell.click();
  await page.keyboard.type('8');
  await expect(page.locator('footer')).toContainText(`Names are hidden in ${lab!.title}`);
  await tally.navigate(page, `/book/${BOOK}/journal`);
  await expect(page.getByText(`${lab!.title}: hidden until shown`).first()).toBeVisible();

  // The teacher shows them; the marker's page follows by itself, and says whose work it is.
  await tally.navigate(marker, `/book/${BOOK}/marking/${lab!.id}`);
  await expect(heading).toHaveText(/^Reed/);
  await tally.navigate(page, `/book/${BOOK}/marking/${lab!.id}`);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Reed/);
  await page.locator('body').press('v');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('to everybody who reads this book');
  expect(await accessibilityFaults(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Show all names' }).click();
  for (const p of [page, marker]) {
    await expect(p).toHaveURL(new RegExp(`/book/${BOOK}/marking/${lab!.id}`));
    await expect(p.getByRole('heading', { level: 1 })).toHaveText(/^[^,]+, .+$/);
  }
  await tally.navigate(page, `/book/${BOOK}/ledger?assessment=${lab!.id}`);
  await expect(page.getByRole('gridcell', { name: /hidden until shown/ })).toHaveCount(0);
  await page.getByRole('searchbox').or(page.getByPlaceholder('find a name')).first().fill(family);
  await expect(page.getByRole('gridcell', { name: /7\.0/ }).first()).toBeVisible();
  await tally.navigate(page, `/book/${BOOK}/journal`);
  await page
    .getByRole('button', { name: `${lab!.title} was changed` })
    .first()
    .click();
  await expect(page.getByText('names shown')).toBeVisible();
});

test('what is typed without names over a dead line is kept, though names are shown meanwhile @line-cut', async ({
  page,
  tally,
}) => {
  const teacher = await tally.as('aldous');
  const [report] = await tally.rows<{ version: number; work: string }>(
    `select version, work from assessment where book = 'wetland-survey-methods' and id = 'report'`,
  );
  await teacher('PATCH', '/books/wetland-survey-methods/assessments/report', {
    ...{ version: report!.version, reason: '', tell: null },
    work: { ...(JSON.parse(report!.work) as object), namesHidden: true },
  });
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, '/book/wetland-survey-methods/marking/report');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Reed/);
  await expect(page.getByLabel('Score')).toBeVisible();
  await page.route('**/entries/**', (route) => route.abort());
  await page.locator('body').press('6');
  await page.keyboard.type('1');
  await page.keyboard.press('Enter');
  await expect(page.locator('footer')).toContainText('not kept yet');
  await teacher('POST', '/books/wetland-survey-methods/assessments/report/show-names', {});
  await expect(page).toHaveURL(/wetland-survey-methods\/marking\/report/);
  await page.unroute('**/entries/**');
  await expect
    .poll(
      () =>
        tally.rows(`select score::text from attempt where book = 'wetland-survey-methods' and assessment = 'report' and score is not null`), // prettier-ignore
      { timeout: 40_000 },
    )
    .toEqual([{ score: '61.0000' }]);
});
