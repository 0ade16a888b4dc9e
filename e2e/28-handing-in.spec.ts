import { accessibilityFaults } from './axe';
import { expect, test, WETLAND } from './tally';
import { OUR_FILES, OURS, photograph, setAssessment, sha } from './transect-report';

const PHONE = { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true };
test(
  'a student on a phone hands in two photographs and a text over a line that drops twice, and again',
  { tag: '@line-cut' },
  async ({ page, tally, another }) => {
    await setAssessment(page, tally);
    await page.getByRole('link', { name: 'what came in' }).click();
    await expect(page.getByRole('heading', { name: 'Transect report' })).toBeVisible();
    await expect(page.getByText('21 of 21 students listed, by name')).toBeVisible();

    const phone = await another(PHONE);
    await tally.letIn(phone, 'farrelly');
    await tally.navigate(phone, '/my');
    await phone.getByRole('link', { name: /Transect report/ }).click();
    await expect(phone.getByText(/Handed in now: in time/)).toBeVisible();
    const handIn = phone.getByRole('button', { name: /^Hand in/ });
    await expect(handIn).toBeDisabled();

    // The line drops in the middle of each: what came stays, and it goes on by itself.
    let drops = 0;
    await phone.route('**/api/v1/uploads/**', async (route) => {
      if (route.request().method() !== 'PATCH' || drops >= 2) return route.continue();
      drops++;
      // Some of it arrives, the rest and the answer do not.
      const body = route.request().postDataBuffer()!;
      await route.fetch({ postData: body.subarray(0, 700_000) }).catch(() => undefined);
      await route.abort('connectionreset');
    });
    const files = [photograph(1_500_000), photograph(900_000)];
    await phone
      .locator('input[type=file]')
      .last()
      .setInputFiles(files.map((buffer, n) => ({ name: `field-sheet-${n + 1}.jpg`, mimeType: 'image/jpeg', buffer })));
    await phone.getByLabel('Text', { exact: true }).fill('What I found along the transect.');
    await expect(phone.getByText('photograph, 1.5 MB')).toBeVisible({ timeout: 30_000 });
    await expect(phone.getByText('photograph, 901 kB')).toBeVisible();
    expect(drops).toBe(2);
    await expect(phone.getByText('Tick the statement first.')).toBeVisible();
    await phone.getByLabel(/All of it comes from me/).check();
    expect(await accessibilityFaults(phone)).toEqual([]);

    // The answer to "Hand in" is lost: it is sent again as the same, and there is one receipt.
    let lost = 0;
    await phone.route('**/hand-in', async (route) => {
      if (lost++ > 0) return route.continue();
      await route.fetch();
      await route.abort('connectionreset');
    });
    await handIn.click();
    await expect(phone.getByRole('heading', { name: 'Handed in' })).toBeVisible({ timeout: 20_000 });
    expect(lost).toBe(2);
    const [kept] = await tally.rows<{ receipt: string; typed: string }>(
      `select receipt, typed from submission s where state = 'handed-in' and ${OURS}`,
    );
    await expect(phone.getByText(kept!.receipt)).toBeVisible();
    expect(kept!.typed).toBe('What I found along the transect.');
    expect(await tally.rows(`select f.name, f.sha256 from ${OUR_FILES} order by name`)).toEqual([
      { name: 'field-sheet-1.jpg', sha256: sha(files[0]!) },
      { name: 'field-sheet-2.jpg', sha256: sha(files[1]!) },
    ]);

    // The list follows by itself, and the work is there to be opened.
    const row = page.locator('tr', { hasText: 'Farrelly, Con' });
    await expect(row).toContainText('to mark');
    await row.click();
    const link = page.getByRole('link', { name: 'field-sheet-1.jpg' });
    const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
    const stream = await download.createReadStream();
    const got: Buffer[] = [];
    for await (const piece of stream) got.push(piece as Buffer);
    expect(sha(Buffer.concat(got))).toBe(sha(files[0]!));

    // Once more, while it is open.
    await phone.getByRole('button', { name: 'hand in again' }).click();
    await phone.getByLabel('Text', { exact: true }).fill('With the second transect.');
    await phone.getByLabel(/All of it comes from me/).check();
    await phone.getByRole('button', { name: 'Hand in 1 part' }).click();
    await expect(phone.getByText('All 2 attempts are handed in.')).toBeVisible();
    await expect(row).toContainText('2 attempts');
  },
);

test('what lies there when nothing is taken in any more is shown as not handed in, and staff can take it in', async ({
  page,
  tally,
  another,
}) => {
  const [{ id }] = (await tally.rows<{ id: string }>(
    `update assessment set takes_work = true, due = '2026-11-27T17:00:00Z', closes = '2026-11-28T17:00:00Z'
     where book = $1 and title = 'Report' returning id`,
    [WETLAND],
  )) as [{ id: string }];
  const student = await another();
  await tally.letIn(student, 'farrelly');
  await tally.navigate(student, `/my/${WETLAND}/${id}`);
  await student.getByLabel('Text', { exact: true }).fill('Reeds on the east bank.');
  const file = { name: 'sheet.jpg', mimeType: 'image/jpeg', buffer: photograph(20_000) };
  await student.locator('input[type=file]').last().setInputFiles(file);
  await expect(student.getByText(/photograph, \d+ kB/)).toBeVisible();
  await expect(student.getByText(/Handed in now: in time/)).toBeVisible();
  await expect.poll(() => tally.rows(`select 1 from submission where assessment = $1 and typed <> ''`, [id])).toHaveLength(1); // prettier-ignore

  await student.getByRole('checkbox').check();
  await tally.setClock('2026-11-28T17:00:01Z');
  await student.getByRole('button', { name: /^Hand in/ }).click();
  await expect(student.getByRole('alert')).toContainText('Work was taken in until 28 Nov 17:00. What lies here stays.');
  await expect(student.getByText(/Handed in now/)).toHaveCount(0);
  await expect(student.getByRole('heading', { name: 'Not handed in' })).toBeVisible();
  await expect(student.getByRole('main')).toContainText('sheet.jpg');
  await expect(student.locator('blockquote')).toHaveText('Reeds on the east bank.');

  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/assessments/${id}/arrivals`);
  await page.getByText('Farrelly, Con').first().click();
  await expect(page.getByRole('button', { name: 'take in what lies here' })).toBeVisible();
});

test(
  'what was begun is there again after a reload, without a line too, and a file that broke off goes on',
  { tag: ['@line-cut', '@long'] },
  async ({ page, tally, another }) => {
    await setAssessment(page, tally);
    const [{ id }] = (await tally.rows<{ id: string }>(
      `select id from assessment where title = 'Transect report'`,
    )) as [{ id: string }];
    const phone = await another(PHONE);
    await tally.letIn(phone, 'okonjo');
    await tally.navigate(phone, `/my/${WETLAND}/${id}`);
    await phone.getByLabel('Text', { exact: true }).fill('First words.');
    await expect
      .poll(() => tally.rows(`select typed from submission s where ${OURS}`))
      .toEqual([{ typed: 'First words.' }]);
    // Half of a file arrives, then the page is gone.
    let pieces = 0;
    await phone.route('**/api/v1/uploads/**', async (route) => {
      if (route.request().method() !== 'PATCH') return route.continue();
      if (pieces++ > 0) return route.abort('connectionreset');
      await route.fetch({ postData: route.request().postDataBuffer()!.subarray(0, 1_000_000) }).catch(() => undefined);
      await route.abort('connectionreset');
    });
    const file = { name: 'pit.jpg', mimeType: 'image/jpeg', buffer: photograph(2_000_000) };
    await phone.locator('input[type=file]').last().setInputFiles(file);
    await expect.poll(() => tally.rows(`select u.received > 0 as some from ${OUR_FILES}`)).toEqual([{ some: true }]);
    await phone.route('**/api/v1/my/**', (route) =>
      route.request().method() === 'PUT' ? route.abort() : route.continue(),
    );
    await phone.getByLabel('Text', { exact: true }).fill('First words, and more without a line.');
    await expect(phone.getByText(/the line is down/)).toBeVisible({ timeout: 20_000 });
    // The page is gone before the line is back, else it goes on by itself.
    await phone.goto('about:blank');
    await phone.unrouteAll({ behavior: 'ignoreErrors' });
    await tally.navigate(phone, `/my/${WETLAND}/${id}`);
    await expect(phone.getByLabel('Text', { exact: true })).toHaveValue('First words, and more without a line.');
    await expect(phone.getByText(/broke off at \d+ % of 2.0 MB; choose it again to go on/)).toBeVisible();
    await expect(phone.getByRole('button', { name: /^Hand in/ })).toBeDisabled();
    const before = await tally.rows<{ n: string }>('select count(*) as n from upload');
    await phone.locator('input[type=file]').last().setInputFiles(file);
    await expect(phone.getByText('photograph, 2.0 MB')).toBeVisible({ timeout: 20_000 });
    // It went on in the place that it had.
    expect(await tally.rows('select count(*) as n from upload')).toEqual(before);
    expect(await tally.rows(`select f.sha256 from ${OUR_FILES}`)).toEqual([{ sha256: sha(file.buffer) }]);
  },
);
