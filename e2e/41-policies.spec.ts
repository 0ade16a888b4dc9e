import type { Page } from '@playwright/test';
import { WETLAND, cellOf, chooseOption, expect, standingOf, test, type Tally } from './tally';

const part = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Kinds of rules' }).getByRole('button', { name }).click();

async function openRules(page: Page, tally: Tally): Promise<void> {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/rules`);
  await expect(page.locator('lt-rule-sentence').first()).toBeVisible();
}

async function makeIt(page: Page): Promise<void> {
  await expect(page.locator('aside')).toContainText('worked out for 21 students');
  await page.getByRole('button', { name: 'Make it the rule …' }).click();
  await page.getByLabel(/^Why\?/).fill('as the syllabus says');
  await page.getByLabel(/^Why\?/).press('Control+Enter');
  await expect(page.locator('footer output')).toContainText('The rule is made');
}

async function typeInto(page: Page, label: string, text: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(text);
  await page.getByLabel(label, { exact: true }).press('Tab');
}

test('one thing stands in for the lowest of others, and the working says what is counted again', async ({
  page,
  tally,
}) => {
  await openRules(page, tally);
  await part(page, 'Counted again');
  await page.getByRole('button', { name: 'One stands in for the lowest' }).click();
  await chooseOption(page, 'What counts again', 'Checks');
  await expect(page.locator('lt-rule-sentence').last()).toContainText('stands in for the lowest, if it is better, in');
  await makeIt(page);
  await tally.navigate(page, `/book/${WETLAND}/ledger`);
  await standingOf(page, 'Farrelly').click();
  await expect(page.getByText(/Checks, counted again/).first()).toBeVisible();
  // It is no column of the ledger.
  await expect(page.getByRole('columnheader', { name: /counted again/ })).toHaveCount(0);
});

test('a variant leaves something out and weighs otherwise, for whom it is given on People @long', async ({
  page,
  tally,
}) => {
  await openRules(page, tally);
  await part(page, 'Variants');
  await page.getByRole('button', { name: 'A variant more' }).click();
  await page.getByTitle('Left out in graduates').click();
  await page.getByRole('menuitemcheckbox', { name: 'Soil pit' }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Another weight in graduates' }).click();
  await typeInto(page, 'Weight of Field notebooks in graduates', '70');
  await makeIt(page);
  const before = await (async () => {
    await tally.navigate(page, `/book/${WETLAND}/ledger`);
    return (await standingOf(page, 'Farrelly').textContent())!;
  })();
  await tally.navigate(page, `/book/${WETLAND}/people`);
  await page.getByRole('checkbox', { name: /^Farrelly/ }).click();
  await chooseOption(page, 'Variant of the rules', 'graduates');
  await expect(page.locator('footer output')).toContainText('by the variant “graduates”');
  await expect(page.getByRole('row', { name: /Farrelly/ })).toContainText('graduates');
  await tally.navigate(page, `/book/${WETLAND}/ledger`);
  await expect(await cellOf(page, 'Farrelly', 'Soil pit')).toHaveText('not asked');
  await expect(standingOf(page, 'Farrelly')).not.toHaveText(before);
  // It cannot go while somebody has it, and says where to mend that.
  await tally.navigate(page, `/book/${WETLAND}/rules`);
  await part(page, 'Variants');
  await page.getByRole('button', { name: 'Take the variant graduates out' }).click();
  await page.getByRole('button', { name: 'Make it the rule …' }).click();
  await page.getByLabel(/^Why\?/).fill('no graduates any more');
  await page.getByLabel(/^Why\?/).press('Control+Enter');
  await expect(
    page.getByText(/1 student has the variant “graduates”\. Take it from them on People first/),
  ).toBeVisible();
});

test('late days for the term are spent by themselves, and what is left is said @long', async ({ page, tally }) => {
  await openRules(page, tally);
  await part(page, 'Lateness');
  await chooseOption(page, 'Whether there are late days to spend', 'so many to spend:');
  await typeInto(page, 'How many there are to spend', '5');
  await makeIt(page);
  await tally.navigate(page, `/book/${WETLAND}/ledger`);
  const cell = await cellOf(page, 'Farrelly', 'Soil pit');
  await cell.click();
  await page.keyboard.type('18');
  await page.keyboard.press('Enter');
  await cell.click();
  await page.keyboard.type('/late 14 Nov 09:00');
  await page.keyboard.press('Enter');
  // Two days late cost nothing: the bank gives them.
  await expect(cell).toHaveText('18.0');
  await cell.click();
  await expect(page.getByText(/two of them from the bank/).first()).toBeVisible();
  await expect(page.getByText(/three left in the bank/).first()).toBeVisible();
});

test('a hurdle holds at a letter, and another asks that something is handed in @long', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  const good = page.locator('tbody').getByText(/^[AB]$/);
  await tally.navigate(page, `/book/${WETLAND}/closing`);
  await expect(page.getByRole('row', { name: /Farrelly/ })).toBeVisible();
  // Letters come once the standings are worked out, after the people.
  await expect.poll(() => good.count()).toBeGreaterThan(5);
  await tally.navigate(page, `/book/${WETLAND}/rules`);
  await part(page, 'Hurdles');
  await page.getByRole('button', { name: 'A hurdle more' }).click();
  await chooseOption(page, 'What hurdle 2 is in', 'Checks');
  await typeInto(page, 'Least of hurdle 2', '100');
  await chooseOption(page, 'What hurdle 2 does', 'the letter is at most');
  await chooseOption(page, 'Highest letter below hurdle 2', 'C');
  await expect(page.locator('aside .counts')).toContainText('go down');
  await makeIt(page);
  await tally.navigate(page, `/book/${WETLAND}/closing`);
  await expect(page.getByRole('row', { name: /Farrelly/ })).toBeVisible();
  // Whoever has all of the checks has nothing to be held by.
  await expect.poll(() => good.count()).toBeLessThan(3);
});

test('a grade is shown once more out of 20, in the ledger and in the file of final grades @long', async ({
  page,
  tally,
}) => {
  await openRules(page, tally);
  await part(page, 'Rounding');
  await chooseOption(page, 'How a final grade is shown', 'as a percentage, and once more on another scale:');
  await expect(page.locator('aside')).toContainText('21 students have another figure on the other scale');
  await makeIt(page);
  await tally.navigate(page, `/book/${WETLAND}/ledger`);
  const standing = standingOf(page, 'Farrelly');
  await expect(standing).toHaveText(/^1\d\.\d\d$/);
  const percent = (await standing.getAttribute('title'))!.replace(' %', '');
  expect(Number(await standing.textContent())).toBeCloseTo(Number(percent) / 5, 1);
  await tally.navigate(page, `/book/${WETLAND}/closing`);
  await expect(page.getByRole('columnheader', { name: 'Shown / 20' })).toBeVisible();
});

test('a curve is worked out from the class, says when the class has moved, and is moved again by a word @long', async ({
  page,
  tally,
}) => {
  await openRules(page, tally);
  await part(page, 'Curves');
  await chooseOption(page, 'Curve of Soil pit', 'moves to a mean of');
  await typeInto(page, 'Mean of Soil pit', '16');
  await makeIt(page);
  await expect(page.getByRole('button', { name: 'Move Soil pit again' })).toHaveCount(0);
  // Somebody else scores one of them while the page is open.
  const other = await page.context().newPage();
  await tally.navigate(other, `/book/${WETLAND}/ledger`);
  const cell = await cellOf(other, 'Farrelly', 'Soil pit');
  await cell.click();
  await other.keyboard.type('3');
  await other.keyboard.press('Enter');
  await expect(page.getByText(/Soil pit’s class has moved since: its mean is now \d/)).toBeVisible();
  await page.getByRole('button', { name: 'Move Soil pit again' }).click();
  await makeIt(page);
  await expect(page.getByRole('button', { name: 'Move Soil pit again' })).toHaveCount(0);
  // Letters by shares: where they begin is found, and is a trial like any other.
  await part(page, 'Letters');
  await chooseOption(page, 'How it is found where letters begin', 'where the class is so shared out that');
  await typeInto(page, 'Share of the class with A', '5');
  await expect(page.getByLabel('From what percentage A', { exact: true })).not.toHaveValue('85');
  await expect(page.locator('aside')).toContainText('worked out for 21 students');
});
