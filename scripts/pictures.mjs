// npm run pictures: takes the pictures of docs/screenshots/ anew from the demo school of a running application
// (npm start -- --fresh). For one of them a score is typed: make the demo afresh afterwards.
import { chromium } from '@playwright/test';
import { join } from 'node:path';
import { OFFICE_PASSWORD, STAFF_PASSWORD, STUDENT_PASSWORD } from '../demo/accounts.mjs';
import { ensureChromium } from './lib/chromium.mjs';
import { root } from './lib/stamps.mjs';

const address = `http://localhost:${process.env.PORT ?? 4300}`;
const book = '/book/wetland-survey-methods';
const browser = await chromium.launch({
  executablePath: await ensureChromium(),
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
});

async function signedIn(login, password) {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(`${address}/sign-in`);
  await page.getByLabel('Sign-in name').fill(login);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL((url) => !url.pathname.includes('sign-in'));
  return page;
}

async function take(page, name) {
  await page.evaluate(() => document.fonts.ready);
  await page.waitForTimeout(900);
  await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
  process.stdout.write(`${name}\n`);
}

async function down(page, rows, columns) {
  await page.locator('.grid').focus();
  for (let i = 0; i < rows; i++) await page.keyboard.press('ArrowDown');
  for (let i = 0; i < columns; i++) await page.keyboard.press('ArrowRight');
}

async function type(page, text) {
  await page.keyboard.type(text, { delay: 30 });
  await page.keyboard.press('Enter');
  await page.waitForTimeout(500);
}

const teacher = await signedIn('aldous', STAFF_PASSWORD);
await teacher.goto(`${address}/desk`);
await take(teacher, 'desk');
await teacher.goto(`${address}${book}/ledger`);
await teacher.waitForSelector('.standing b:not(:empty)');
await down(teacher, 6, 3);
await take(teacher, 'ledger');
await teacher.goto(`${address}${book}/assessments`);
await teacher.getByRole('textbox', { name: /^A new assessment/ }).fill('Check 3, 4 Dec');
await take(teacher, 'assessments');
await teacher.locator('.one', { hasText: 'Level & staff' }).click();
await teacher.getByLabel('Points', { exact: true }).fill('40');
await take(teacher, 'one-assessment');
await teacher.goto(`${address}/book/soil-science-1/assessments/sheet-5/arrivals`);
await teacher.locator('tr', { hasText: 'Faircloth' }).first().click();
await take(teacher, 'arrivals');
await teacher.goto(`${address}${book}/assessments/soil-pit/rubric`);
await teacher.getByRole('group', { name: 'Criterion 1' }).getByLabel('Points of level 3').fill('4');
await teacher.getByRole('columnheader', { name: 'now → then' }).waitFor();
await take(teacher, 'rubric');
await teacher.getByRole('button', { name: 'as it was' }).click();
await teacher.goto(`${address}${book}/people`);
await teacher.getByRole('button', { name: 'Add students …' }).click();
await teacher
  .getByLabel(/^One student to a line/)
  .fill(
    'BC24101\tAbernethy\tMaud\t\tSouth\nBC25009\tWestray\tOona\toona@students.brackenmoor.example\tNorth\nBC24143\tWestray\tOona\t\tNorth',
  );
await take(teacher, 'people');
await teacher.goto(`${address}${book}/exceptions?assessment=check-1`);
await teacher.getByRole('button', { name: 'all of North' }).click();
await teacher.getByLabel('because').fill('the minibus broke down');
await take(teacher, 'exceptions');
await teacher.goto(`${address}${book}/rules`);
await teacher.getByRole('button', { name: 'Lateness' }).click();
await teacher.getByLabel('Percent taken').fill('30');
await teacher.getByLabel('Percent taken').press('Tab');
await teacher.waitForSelector('aside .counts');
await take(teacher, 'rules');
await teacher.getByRole('button', { name: 'Drop the trial' }).click();
await teacher.goto(`${address}${book}/intake`);
const rows = [
  'BC24101;27,75;9',
  'BC24108;1x5;10',
  'BC24115;;ex',
  'BC24122;29,25;12',
  'BC24129;19,5;11',
  'BC24136;20,25;9,5',
];
rows.push('BC24143;;12', 'BC24150;24;8', 'BC24157;21;8,5', 'BC99999;3;4', 'BC24164;27;9');
await teacher.locator('input[type=file]').setInputFiles({
  name: 'field-checks-nov.csv',
  mimeType: 'text/csv',
  buffer: Buffer.from(
    `Field checks, November;;\r\nStudent number;Pond transect /30;Check 2\r\n${rows.join('\r\n')}\r\n`,
  ),
});
await teacher.getByRole('heading', { name: 'field-checks-nov.csv' }).waitFor();
await take(teacher, 'intake');
await teacher.goto(`${address}${book}/release?assessment=soil-pit`);
await teacher.getByRole('heading', { name: 'Soil pit' }).waitFor();
await take(teacher, 'release');
await teacher.goto(`${address}${book}/closing`);
await take(teacher, 'closing');

await teacher.goto(`${address}${book}/ledger`);
await teacher.waitForSelector('.standing b:not(:empty)');
await down(teacher, 6, 3);
await type(teacher, '17');
await teacher.keyboard.press('ArrowUp');
// A slash word leaves the cursor where it is.
await type(teacher, '/late 2');
await take(teacher, 'working');

await type(teacher, '/note');
await teacher.keyboard.type('Ask about the second pit.');
await teacher.keyboard.press('Control+Enter');
await teacher.waitForTimeout(600);
await teacher.goto(`${address}${book}/marking/soil-pit`);
await teacher.locator('aside li button', { hasText: 'Ibekwe' }).click();
await teacher.waitForSelector('.textLayer');
await teacher.getByRole('toolbar', { name: 'Mark on the work' }).waitFor();
const line = async (n) => teacher.locator('.textLayer span:not(.markedContent)').nth(n).boundingBox();
const choose = async (n, from, to) => {
  const box = await line(n);
  // Whole pixels: pressed between two, Chromium chooses nothing at some places.
  const [x, y] = [(share) => Math.round(box.x + share * box.width), Math.round(box.y + box.height / 2)];
  await teacher.mouse.move(x(from), y);
  await teacher.mouse.down();
  await teacher.mouse.move(x(to), y, { steps: 5 });
  await teacher.mouse.up();
  await teacher.getByRole('toolbar', { name: 'The words that are chosen' }).waitFor();
};
const said = teacher.getByRole('combobox', { name: 'What you say of it' });
await choose(2, 0.18, 0.62);
await teacher.keyboard.press('c');
await said.fill('Say how you know.');
await teacher.keyboard.press('Enter');
await choose(6, 0.31, 0.45);
await teacher.keyboard.press('k');
await teacher.getByRole('textbox', { name: 'Better' }).fill('fell apart');
await teacher.keyboard.press('Enter');
await teacher.keyboard.press('p');
const drawn = await line(11);
for (let i = 0; i <= 60; i++) {
  const [x, y] = [Math.cos(i / 9), Math.sin(i / 9)];
  await teacher.mouse.move(drawn.x + 150 + 70 * x + i / 5, drawn.y + 8 + 15 * y);
  if (i === 0) await teacher.mouse.down();
}
await teacher.mouse.up();
await teacher.keyboard.press('Escape');
await teacher
  .getByRole('button', { name: /^Drawing/ })
  .last()
  .focus();
await teacher.keyboard.press('Enter');
await said.fill('Measured, or read off the face?');
await teacher.keyboard.press('Enter');
for (const key of ['3', '3', '4']) await teacher.keyboard.press(key);
await teacher.keyboard.type('Clear drawing, and the water table is well argued.');
await teacher.keyboard.press('Enter');
await teacher.keyboard.type('Give the hand-texture result beside the colour.');
await teacher.keyboard.press('Alt+Enter');
await teacher.waitForTimeout(500);
await teacher.keyboard.press('Enter');
await teacher.keyboard.type('/hand');
await teacher.waitForTimeout(800);
await take(teacher, 'marking');
await teacher.keyboard.press('Escape');
await teacher.keyboard.press('Escape');
// A slip comes back: the late score with an end note.
await teacher.goto(`${address}${book}/marking/soil-pit`);
await teacher.locator('aside li button', { hasText: 'Farrelly' }).click();
await teacher.locator('lt-end-note [contenteditable=true]').click();
await teacher.keyboard.type('Clear drawing, and the water table is well argued. For full marks give the hand-texture result for each horizon beside the colour.'); // prettier-ignore
await teacher.keyboard.press('Escape');
await teacher.keyboard.press('Control+Enter');
const releasing = teacher.getByRole('dialog');
await releasing.getByRole('checkbox', { name: 'rubric' }).uncheck();
await releasing.getByRole('button', { name: 'Release', exact: true }).click();
await releasing.waitFor({ state: 'detached' });
await teacher.goto(`${address}${book}/journal`);
await teacher.waitForSelector('lt-journal .line');
await teacher.locator('.what').first().click();
await take(teacher, 'journal');

const student = await signedIn('farrelly', STUDENT_PASSWORD);
await student.goto(`${address}/my/wetland-survey-methods?slip=soil-pit`);
await student.getByRole('heading', { name: 'Feedback' }).waitFor();
await take(student, 'student');
await student.setViewportSize({ width: 390, height: 844 });
await student.goto(`${address}/my/wetland-survey-methods/report`);
await student.getByLabel('Text', { exact: true }).fill('What I found along the transect.');
await take(student, 'hand-in');
const office = await signedIn('halloran', OFFICE_PASSWORD);
await office.goto(`${address}/office`);
await take(office, 'office');
await office.goto(`${address}/office/rules`);
await office.getByRole('button', { name: /^Lateness/ }).click();
await office.getByLabel('Percent taken').fill('20');
await office.getByLabel('Percent taken').press('Tab');
await office.getByRole('button', { name: /^Wetland/ }).click();
await office.waitForSelector('aside tbody');
await take(office, 'school-rules');
await browser.close();
