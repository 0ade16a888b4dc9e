import { accessibilityFaults } from './axe';
import { expect, test, WETLAND, type Tally } from './tally';
import type { Page } from '@playwright/test';

const PHONE = { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true };

/** Hands in a text through the API, as the page does; gives the receipt. */
async function handIn(
  page: Page,
  tally: Tally,
  { book = WETLAND, assessment, statement }: { book?: string; assessment: string; statement: string | null },
): Promise<string> {
  const api = `${tally.address}/api/v1`;
  const me = (await (await page.request.get(`${api}/session`)).json()) as { me: { token: string } };
  const headers = { 'x-last-tally-token': me.me.token };
  const work = `${api}/my/books/${book}/assessments/${assessment}`;
  const typed = await page.request.put(`${work}/work`, {
    headers,
    data: { version: 0, typed: 'My soil pit.', link: '' },
  });
  const { id, version } = (await typed.json()) as { id: string; version: number };
  const operation = `hand-in-${id}`;
  const data = { operation, submission: id, version, pressedAt: '2026-11-24T09:00:00Z', statement };
  const answer = await page.request.post(`${work}/hand-in`, { headers, data });
  return ((await answer.json()) as { submission: { receipt: string } }).submission.receipt;
}

test('work handed in to the wrong assessment is found by Where is …? and moved, with receipt and time; then it is opened again', async ({
  page,
  tally,
  another,
}) => {
  const phone = await another(PHONE);
  await tally.letIn(phone, 'farrelly');
  const statement = 'All of it comes from me; what is somebody else’s is named.';
  const receipt = await handIn(phone, tally, { assessment: 'report', statement });
  const [came] = await tally.rows<{ at: string }>(
    `select handed_in_at::text as at from submission where receipt = $1`,
    [receipt],
  );

  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: /^A student, an assessment/ }).fill('where is');
  await expect(page.getByRole('option', { name: /^page Where is …\?/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await page.getByLabel('A student').fill('farr con');
  await page.getByRole('list', { name: 'Students' }).getByRole('button', { name: 'Farrelly, Con' }).click();
  const found = page.getByRole('listitem').filter({ hasText: receipt });
  await expect(found).toContainText('It waits to be marked.');
  // The ledger that she came from leaves him out: that is said, and one step shows him there.
  await page.goBack();
  await page.goBack();
  await expect(page.getByRole('grid')).toBeVisible();
  await page.getByLabel('Find a name').fill('kilbride');
  await expect(page.getByRole('rowheader', { name: /Kilbride/ })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: /^A student, an assessment/ }).fill('where is farrelly');
  await expect(page.getByRole('option', { name: /^where is Farrelly/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(
    page.getByText(/is hidden by the filter in force: the ledger, .* leaves out \d+ of other names/),
  ).toBeVisible();
  await page.getByRole('link', { name: 'clear the filter' }).click();
  await expect(page.getByRole('rowheader', { name: /Farrelly/ })).toBeVisible();
  await page.goBack();
  await expect(found).toBeVisible();
  await expect(page.getByText('hidden by the filter')).toBeHidden();
  expect(await accessibilityFaults(page)).toEqual([]);
  await found.getByRole('button', { name: 'move it …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('combobox').click();
  await page.getByRole('option', { name: /^Soil pit/ }).click();
  await dialog.getByLabel('Why, for the journal').fill('handed in to the report');
  await dialog.getByRole('button', { name: 'Move it' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByRole('listitem').filter({ hasText: 'It came here from Report' })).toContainText(receipt);
  expect(
    await tally.rows(
      `select assessment, state, handed_in_at::text as at from submission where receipt = $1 order by assessment`,
      [receipt],
    ),
  ).toEqual([
    { assessment: 'report', state: 'moved', at: came!.at },
    { assessment: 'soil-pit', state: 'handed-in', at: came!.at },
  ]);

  // The report is his to hand in still; the soil pit is given back with a comment, as one attempt more.
  await page.goto(
    `${tally.address}/book/${WETLAND}/assessments/soil-pit/arrivals?student=${await tally.enrolment('Farrelly')}`,
  );
  await page.getByRole('complementary').getByRole('link', { name: 'open again' }).click();
  await page.getByLabel('telling them').fill('The table of readings is missing.');
  await page.getByLabel('Open again until', { exact: true }).fill('1 Dec 12:00');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.locator('footer output')).toContainText('open again: kept for');
  await tally.navigate(phone, `/my/${WETLAND}/soil-pit`);
  await expect(phone.getByText('Open again until 1 Dec 12:00.')).toBeVisible();
  await expect(phone.getByText('The table of readings is missing.')).toBeVisible();
  await expect(phone.getByText(receipt)).toBeVisible();
});

test('what an assessment asks for is written with a list and a link, a worksheet goes with it, and its student takes a copy @long', async ({
  page,
  tally,
  another,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/assessments/report`);
  const words = page.getByRole('textbox', { name: 'Instructions' });
  await words.click();
  await page.keyboard.type('Describe the pond. See the map.');
  await page.keyboard.press('Shift+Home');
  await page.getByRole('toolbar').getByRole('button', { name: 'link' }).click();
  await page.getByLabel('Where the link leads').fill('javascript:alert(1)');
  await page.getByLabel('Where the link leads').press('Enter');
  await page.keyboard.press('End');
  await page.keyboard.press('Enter');
  await page.getByRole('toolbar').getByRole('button', { name: 'list', exact: true }).click();
  await page.keyboard.type('a sketch');
  await page.keyboard.press('Enter');
  await page.keyboard.type('a table, as at https://fens.example/table ');
  await page
    .getByLabel('Attach a worksheet')
    .setInputFiles({ name: 'survey sheet.txt', mimeType: 'text/plain', buffer: Buffer.from('station, depth') });
  await expect(page.getByRole('link', { name: 'survey sheet.txt' })).toBeVisible();
  // Left and come back to: nothing typed is lost.
  await page.reload();
  await expect(words).toContainText('a sketch');
  await page.getByRole('button', { name: 'Keep the words' }).click();
  await expect(page.locator('footer output')).toContainText('students read it so from now on');

  const phone = await another(PHONE);
  await tally.letIn(phone, 'okonjo');
  await tally.navigate(phone, `/my/${WETLAND}/report`);
  const asks = phone.locator('lt-rich-text');
  await expect(asks.getByRole('listitem')).toHaveText(['a sketch', /a table/]);
  // A link that is a script is no link.
  await expect(asks.getByRole('link')).toHaveCount(1);
  await expect(asks.getByRole('link')).toHaveAttribute('href', 'https://fens.example/table');
  const [copy] = await Promise.all([
    phone.waitForEvent('download'),
    phone.getByRole('link', { name: 'survey sheet.txt' }).click(),
  ]);
  expect(copy.suggestedFilename()).toBe('survey sheet, Okonjo Adaeze.txt');
});

test('two of the staff look on while ten students hand in at once: both lists follow, and nobody is missed @long', async ({
  page,
  tally,
  another,
}) => {
  const book = 'soil-science-1';
  const students = await tally.rows<{ login: string; family: string }>(
    `select p.login, p.family from enrolment e join person p on p.school = e.school and p.id = e.person
     where e.book = $1 and e.left_at is null and not exists (select 1 from submission s where s.book = e.book
       and s.assessment = 'sheet-6' and s.enrolment = e.id) order by p.login limit 10`,
    [book],
  );
  const open = async (staff: Page, login: string) => {
    await tally.letIn(staff, login);
    await tally.navigate(staff, `/book/${book}/assessments/sheet-6/arrivals`);
    const count = staff.getByRole('group', { name: 'Students by state' }).getByRole('button', { name: /to mark$/ });
    return { count, before: Number.parseInt(await count.innerText()) };
  };
  const teacher = await open(page, 'brandvold');
  const coTeacher = await open(await another(), 'aldous');
  expect(coTeacher.before).toBe(teacher.before);
  const own = await Promise.all(
    students.map(async ({ login }) => {
      const student = await another();
      await tally.letIn(student, login);
      return student;
    }),
  );
  const receipts = await Promise.all(
    own.map((s) => handIn(s, tally, { book, assessment: 'sheet-6', statement: null })),
  );
  expect(new Set(receipts).size).toBe(10);
  for (const { count, before } of [teacher, coTeacher]) await expect(count).toHaveText(new RegExp(`^${before + 10} `));
  // The one tells, in between, what the other reads without asking.
  await page
    .getByRole('rowheader', { name: new RegExp(`^${students[0]!.family},`) })
    .first()
    .click();
  await expect(page.getByRole('complementary')).toContainText('handed in');
  await Promise.all(own.map((s) => s.context().close()));
});
