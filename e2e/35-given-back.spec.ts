import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { accessibilityFaults } from './axe';
import { expect, test, WETLAND, type Tally } from './tally';

const ROOM = `/book/${WETLAND}/marking/soil-pit`;
const given = (page: Page) => page.getByRole('group', { name: 'Given back' });
const player = (page: Page) => given(page).locator('lt-player');
const timer = (page: Page) => page.getByRole('timer');
const seconds = async (page: Page): Promise<number> => Number((await timer(page).innerText()).split(':')[1]);

async function goTo(page: Page, student: string): Promise<void> {
  await page.getByRole('button', { name: new RegExp(`^${student}`) }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(student);
  await expect(page.getByRole('button', { name: 'say it' })).toBeVisible();
}

async function enter(page: Page, tally: Tally, student = 'Ibekwe', login = 'aldous'): Promise<void> {
  await tally.letIn(page, login);
  await tally.navigate(page, ROOM);
  await goTo(page, student);
}

async function second(another: () => Promise<Page>, tally: Tally): Promise<Page> {
  await tally.rows(
    `insert into book_staff (school, book, person, role) select school, $1, id, 'marker' from person where login = 'quigg'`,
    [WETLAND],
  );
  const other = await another();
  await enter(other, tally, 'Ibekwe', 'quigg');
  return other;
}

const pieces = (tally: Tally) =>
  tally
    .rows<{ n: string }>(
      `select coalesce(max(u.received), 0) as n from feedback_attachment f join upload u on u.school = f.school and u.id = f.upload`,
    )
    .then((r) => Number(r[0]!.n));
const whole = (tally: Tally) =>
  tally.rows<{ seconds: string; bytes: string }>(
    `select f.seconds, u.bytes from feedback_attachment f join upload u on u.school = f.school and u.id = f.upload
     where f.sha256 is not null and not f.removed order by f.added_at`,
  );

async function choose(page: Page, to: RegExp, files: { name: string; text: string }[]): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'give a file' }).click();
  await page.getByRole('menuitem', { name: to }).click();
  await (await chooser).setFiles(files.map((f) => ({ name: f.name, mimeType: 'text/plain', buffer: Buffer.from(f.text) }))); // prettier-ignore
}

test('feedback is said by one key, played, seen by a colleague at once, taken off and put back', async ({
  page,
  tally,
  another,
}) => {
  await enter(page, tally);
  const other = await second(another, tally);
  await page.keyboard.press('a');
  await expect.poll(() => seconds(page)).toBeGreaterThan(2);
  await expect(given(other).getByText('R. Aldous records …')).toBeVisible();
  await page.keyboard.press('a');
  await expect(player(page)).toBeVisible();
  await expect(player(other)).toBeVisible();
  const [kept] = await whole(tally);
  expect(Number(kept!.seconds)).toBeGreaterThan(2);
  expect(Number(kept!.bytes)).toBeGreaterThan(2_000);
  await player(other).getByRole('button', { name: 'play' }).click();
  await expect(player(other).getByRole('button', { name: 'stop' })).toBeVisible();
  await expect(player(other)).toContainText(/0:0[1-9] \//);
  // To the end of it, and it can be played again.
  await expect(player(other).getByRole('button', { name: 'play' })).toBeVisible();
  await player(other).getByRole('slider').focus();
  await other.keyboard.press('End');
  await expect.poll(() => other.evaluate(() => document.querySelector<HTMLVideoElement>('lt-player video')!.currentTime)).toBeGreaterThan(1.5); // prettier-ignore
  expect(await accessibilityFaults(page)).toEqual([]);
  await page.reload();
  await expect(player(page)).toBeVisible();
  await page.getByRole('button', { name: /^take off voice/ }).click();
  await expect(player(page)).toBeHidden();
  await expect(player(other)).toBeHidden();
  await page.getByRole('button', { name: 'put it back' }).click();
  await expect(player(other)).toBeVisible();
});

test('a camera is seen while it records and when it is played; walking on keeps it with its own student @long', async ({
  page,
  tally,
}) => {
  await enter(page, tally);
  await page.getByRole('button', { name: 'on camera' }).click();
  await expect(page.getByLabel('What the camera sees')).toBeVisible();
  await expect.poll(() => seconds(page)).toBeGreaterThan(1);
  await goTo(page, 'Jansky');
  await expect.poll(async () => (await whole(tally)).length).toBe(1);
  await expect(player(page)).toBeHidden();
  await goTo(page, 'Ibekwe');
  await player(page).getByRole('button', { name: 'play' }).click();
  await expect(page.locator('lt-player video.film')).toBeVisible();
  await expect.poll(() => page.locator('lt-player video').evaluate((v: HTMLVideoElement) => v.videoWidth)).toBeGreaterThan(0); // prettier-ignore
});

test(
  'a recording goes on over a line that drops and a server that is killed',
  { tag: ['@line-cut', '@long'] },
  async ({ page, tally }) => {
    await enter(page, tally);
    await page.getByRole('button', { name: 'say it' }).click();
    await expect.poll(() => pieces(tally)).toBeGreaterThan(0);
    const before = await pieces(tally);
    await page.context().setOffline(true);
    const from = await seconds(page);
    await expect.poll(() => seconds(page)).toBeGreaterThan(from + 2);
    await page.context().setOffline(false);
    await expect.poll(() => pieces(tally)).toBeGreaterThan(before);
    await tally.kill();
    const at = await seconds(page);
    await expect.poll(() => seconds(page)).toBeGreaterThan(at + 2);
    await page.getByRole('button', { name: 'keep it' }).click();
    await expect(given(page).getByText(/is sent|leave this page open/)).toBeVisible();
    await tally.restart();
    await expect(player(page)).toBeVisible({ timeout: 60_000 });
    const [kept] = await whole(tally);
    expect(Number(kept!.seconds)).toBeGreaterThan(from + 3);
    await player(page).getByRole('button', { name: 'play' }).click();
    await expect(player(page)).toContainText(/0:0[1-9] \//);
  },
);

test(
  'a page that closes in the middle loses its last seconds alone',
  { tag: '@long' },
  async ({ page, tally, another }) => {
    await enter(page, tally);
    await page.getByRole('button', { name: 'say it' }).click();
    await expect.poll(() => pieces(tally)).toBeGreaterThan(0);
    await expect.poll(() => seconds(page)).toBeGreaterThan(4);
    await page.close({ runBeforeUnload: false });
    const again = await another();
    await enter(again, tally);
    await expect(given(again)).toContainText(/broke off; \d+ kB of it are here/);
    await again.getByRole('button', { name: 'keep it' }).click();
    await player(again).getByRole('button', { name: 'play' }).click();
    await expect(player(again)).toContainText(/0:0[1-9]/);
  },
);

test('who allows no microphone is told so, and goes on @long', async ({ page, tally }) => {
  await page.addInitScript(() => {
    navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException('no', 'NotAllowedError'));
  });
  await enter(page, tally);
  await page.getByRole('button', { name: 'say it' }).click();
  await expect(page.getByRole('alert')).toContainText('does not let this page use the microphone');
  await page.getByRole('button', { name: 'go on without' }).click();
  await expect(page.getByRole('button', { name: 'say it' })).toBeVisible();
  expect(await tally.rows('select 1 from feedback_attachment')).toEqual([]);
});

test('files are given to one and to everybody, and the marked copy to its student @long', async ({ page, tally }) => {
  await enter(page, tally);
  await choose(page, /to this student/, [
    { name: 'your table.txt', text: 'depth' },
    { name: 'second.txt', text: 'colour' },
  ]);
  await expect(given(page).getByRole('link', { name: 'your table.txt' })).toBeVisible();
  await expect(given(page).getByRole('link', { name: 'second.txt' })).toBeVisible();
  await choose(page, /to everybody/, [{ name: 'answer key.txt', text: 'The answers.' }]);
  await expect(given(page)).toContainText('to everybody');
  // A mark without the pointer, and the copy with it.
  await expect(page.locator('.textLayer span').first()).toBeAttached();
  await page.keyboard.press('Escape');
  await page.getByRole('region', { name: 'The work', exact: true }).focus();
  await page.keyboard.press('m');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Measured?');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'give a file' }).click();
  await page.getByRole('menuitem', { name: /the marked copy/ }).click();
  const copy = given(page).getByRole('link', { name: /marked.*\.pdf$/ });
  await expect(copy).toBeVisible();
  const download = page.waitForEvent('download');
  await copy.click();
  expect((await readFile(await (await download).path())).subarray(0, 5).toString()).toBe('%PDF-');
  await goTo(page, 'Jansky');
  await expect(given(page).getByRole('link')).toHaveText(['answer key.txt']);
});

test('a staff note with a file is kept as it is typed, and never over a colleague’s @long', async ({
  page,
  tally,
  another,
}) => {
  await enter(page, tally);
  const other = await second(another, tally);
  const note = (of: Page) => of.getByRole('textbox', { name: 'Staff note' });
  for (const p of [page, other]) await p.getByRole('button', { name: 'staff note' }).click();
  await note(other).fill('The pit was shared.');
  await note(page).fill('Spoke with the workshop.');
  // A flag of one's own beside the words is nobody else's words.
  await page.getByRole('button', { name: 'second look' }).click();
  await expect(page.getByRole('button', { name: 'second look done' })).toBeVisible();
  await expect(page.getByRole('group', { name: 'Staff note' })).toContainText('R. Aldous');
  await note(other).blur();
  const conflict = other.getByRole('alert');
  await expect(conflict).toContainText('R. Aldous wrote meanwhile: “Spoke with the workshop.”');
  await other.getByRole('button', { name: 'put both' }).click();
  await expect(note(page)).toHaveValue('Spoke with the workshop.\nThe pit was shared.');
  // Left without a pause: what was typed is there all the same.
  await note(page).press('End');
  await note(page).pressSequentially(' Twice.');
  await goTo(page, 'Jansky');
  await expect(note(page)).toBeHidden();
  await expect(note(other)).toHaveValue(/Twice\./);
  await goTo(page, 'Ibekwe');
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'a file with it' }).click();
  await (await chooser).setFiles({ name: 'photo of the pit.txt', mimeType: 'text/plain', buffer: Buffer.from('x') });
  await expect(other.getByRole('group', { name: 'Staff note' }).getByRole('link')).toHaveText('photo of the pit.txt');
});
