import { WETLAND, chooseOption, expect, standingOf, test } from './tally';

const trial = 'aside';

test('the office tries the school’s rules over all books, makes them, and fixes them; books go by them or depart with a reason', async ({
  page,
  tally,
  another,
}) => {
  test.setTimeout(180_000);
  const teacher = await another();
  await tally.letIn(teacher, 'aldous');
  await tally.navigate(teacher, `/book/${WETLAND}/ledger`);
  await expect(teacher.locator('.standing b').first()).not.toBeEmpty();
  const before = await standingOf(teacher, 'Tregenza').textContent();

  await tally.signIn(page, 'halloran');
  await page.getByRole('link', { name: 'school rules' }).click();
  const nav = page.getByRole('navigation', { name: 'What the school says' });
  await nav.getByRole('button', { name: /^Lateness/ }).click();
  await expect(page.getByText('Books begin with this')).toBeVisible();
  await page.getByLabel('Percent taken').fill('30');
  await page.getByLabel('Percent taken').press('Tab');
  await expect(page.locator(trial)).toContainText('Worked out for all 3 books of terms that have not ended.');
  const line = page.locator(trial).getByRole('button', { name: /^Wetland Survey Methods/ });
  const moves = Number(/(\d+) of 21 move/.exec((await line.textContent())!)![1]);
  expect(moves).toBeGreaterThan(0);
  await line.click();
  await expect(page.locator(`${trial} tbody tr`)).toHaveCount(moves);
  await expect(page.locator(`${trial} tbody`)).toContainText('Tregenza');
  expect(await tally.rows('select rules_version from book where id = $1', [WETLAND])).toEqual([{ rules_version: 1 }]);

  await page.getByRole('button', { name: 'Make it the school’s rule …' }).click();
  await expect(page.getByRole('button', { name: 'Make it the school’s rule', exact: true })).toBeDisabled();
  await page.getByLabel(/^Why\?/).fill('board of studies, 24 November');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer')).toContainText('The school’s rules are made. 3 books have taken them on.');
  // The teacher, who has the ledger open, sees it come; what the trial said is what it is.
  await expect(standingOf(teacher, 'Tregenza')).not.toHaveText(before!);
  await teacher.getByRole('link', { name: 'Journal' }).click();
  await expect(teacher.locator('lt-journal li').first()).toContainText('School rules: board of studies, 24 November');

  await teacher.getByRole('link', { name: 'Rules', exact: true }).click();
  await teacher.getByRole('button', { name: /^Letters/ }).click();
  await expect(teacher.getByText('As the school has it.')).toBeVisible();
  await teacher.getByLabel('From what percentage A').fill('80');
  await teacher.getByLabel('From what percentage A').press('Tab');
  await expect(teacher.getByText('The school: A from 85 %.')).toBeVisible();
  await expect(teacher.locator(trial)).toContainText('worked out for 21 students');
  await teacher.getByRole('button', { name: 'Make it the rule …' }).click();
  await expect(teacher.getByRole('button', { name: 'Make it the rule', exact: true })).toBeDisabled();
  await expect(teacher.getByLabel(/^Why\? This departs/)).toBeFocused();
  await teacher.keyboard.press('Control+Enter');
  await teacher.keyboard.type('external examiner’s scale');
  await teacher.keyboard.press('Control+Enter');
  await expect(teacher.locator('footer')).toContainText('The rule is made.');
  await expect(teacher.getByText(/Since .*, R. Aldous: “external examiner’s scale”/)).toBeVisible();

  await tally.navigate(page, '/office/rules');
  await nav.getByRole('button', { name: /^Departures/ }).click();
  const departures = page.getByRole('region', { name: 'Departures' });
  await expect(departures.getByRole('listitem').filter({ hasText: 'Wetland Survey Methods' })).toContainText(
    'A 80 %, B 70 %, C 55 %, D 45 % and F 0 %. The school: A 85 %',
  );
  await expect(departures).toContainText('A late allowance is worth 48 hours, not 24.');

  await nav.getByRole('button', { name: /^Letters/ }).click();
  await chooseOption(page, 'How far books are bound', 'go by this and may not depart from it');
  await expect(page.locator(trial)).toContainText(/Wetland Survey Methods\s+\d+ of 21 move/);
  await page.getByRole('button', { name: 'Make it the school’s rule …' }).click();
  await page.getByLabel(/^Why\?/).fill('one scale for all');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer')).toContainText('1 book has taken them on.');
  // It reaches the page that the teacher has open: the words are the school’s.
  await expect(teacher.getByText('As the school has it. Books may not depart from this.')).toBeVisible();
  await expect(teacher.getByLabel('From what percentage A')).toHaveValue('85');
  await expect(teacher.getByLabel('From what percentage A')).toBeDisabled();

  // A book made now has all of it.
  await tally.navigate(teacher, '/new-book');
  await teacher.getByLabel('Title').fill('Hedge Laying');
  await teacher.getByLabel('Categories with their weights').fill('Practicals 60, Checks 40');
  await teacher.getByRole('button', { name: 'Make the book' }).click();
  await expect(teacher.getByRole('link', { name: 'Rules', exact: true })).toBeVisible();
  await teacher.getByRole('link', { name: 'Rules', exact: true }).click();
  await teacher.getByRole('button', { name: /^Lateness/ }).click();
  await expect(teacher.getByLabel('Percent taken')).toHaveValue('30');
  const days = teacher.getByLabel('Dates that are not counted');
  await expect(days).toHaveValue('21 Dec 2026 to 3 Jan 2027, 8 Feb 2027');
  await expect(days).toBeDisabled();
});

test('closed days are kept as a calendar, an earlier version is looked at and made again, and two offices do not overwrite each other @long', async ({
  page,
  tally,
  another,
}) => {
  await tally.letIn(page, 'halloran');
  await tally.navigate(page, '/office/rules');
  const nav = page.getByRole('navigation', { name: 'What the school says' });
  await nav.getByRole('button', { name: /^Closed days/ }).click();
  await page.getByRole('button', { name: 'A closure more' }).click();
  await page.getByLabel('What closure 3 is called').fill('Flood');
  await page.getByLabel('First day of closure 3').fill('next week');
  await page.getByLabel('First day of closure 3').press('Tab');
  await expect(page.getByRole('alert')).toContainText('“next week” is no date with its year');
  await page.getByLabel('First day of closure 3').fill('3 Oct 2026');
  await page.getByLabel('First day of closure 3').press('Tab');
  await page.getByLabel('Last day of closure 3').fill('20 Nov 2026');
  await page.getByLabel('Last day of closure 3').press('Tab');
  // Work that came in on these days is not late for them: nobody goes down.
  await expect(page.locator(trial)).toContainText('Worked out for all 3 books');
  await expect(page.locator(`${trial} .counts`)).toContainText('0 go down');
  await expect(page.locator(`${trial} .counts`)).not.toContainText('0 go up');

  // Another window of the office is first.
  const other = await another();
  await tally.letIn(other, 'halloran');
  await tally.navigate(other, '/office/rules');
  await other.getByRole('button', { name: /^Rounding/ }).click();
  await other.getByLabel('Decimals').press('ArrowUp');
  await expect(other.locator(trial)).toContainText('Worked out for all 3 books');
  await other.getByRole('button', { name: 'Make it the school’s rule …' }).click();
  await other.getByLabel(/^Why\?/).fill('two decimals');
  await other.keyboard.press('Control+Enter');
  await expect(other.locator('footer')).toContainText('3 books have taken them on.');

  await page.getByRole('button', { name: 'Make it the school’s rule …' }).click();
  await page.getByLabel(/^Why\?/).fill('the Brack was over the road');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('alert')).toContainText('Somebody else changed the school’s rules');
  await expect(page.getByLabel('What closure 3 is called')).toHaveValue('Flood');
  await page.getByRole('button', { name: 'drop mine and look at theirs' }).click();
  await expect(page.getByLabel('What closure 3 is called')).toHaveCount(0);

  await nav.getByRole('button', { name: 'Versions' }).click();
  await expect(page.getByRole('region', { name: 'Versions' }).getByRole('listitem')).toHaveCount(2);
  await page.getByRole('button', { name: 'Look at version 1' }).click();
  await expect(page.locator(trial)).toContainText('Worked out for all 3 books');
  await page.getByRole('button', { name: 'Make it the school’s rule …' }).click();
  await page.getByLabel(/^Why\?/).fill('one is enough');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer')).toContainText('3 books have taken them on.');
  expect(
    await tally.rows(
      `select v.rules::json->'rounding'->>'decimals' as decimals from book b
       join rules_version v on v.school = b.school and v.book = b.id and v.version = b.rules_version order by b.id`,
    ),
  ).toEqual([{ decimals: '1' }, { decimals: '1' }, { decimals: '1' }]);
});
