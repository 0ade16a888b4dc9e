import { accessibilityFaults } from './axe';
import { expect, test, WETLAND, type Tally } from './tally';

const PHONE = { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true };
const REPORT = `/book/${WETLAND}/assessments/report/arrivals`;

/** The pauses before next tries are over: a machine that stands still makes a line drop, and half a minute would pass. */
const triedAgain = (tally: Tally) =>
  tally.rows(`update mail set next_try_at = now() where state = 'waiting' and next_try_at > now()`);

/** How many mails with these words came. */
async function sent(tally: Tally, words: string): Promise<number> {
  await triedAgain(tally);
  return (await tally.mails(words)).length;
}

test.describe('with the mail stand-in', () => {
  test.use({ mail: true });

  test('somebody who forgot the password asks at the door, and comes in by the link in the mail', async ({
    page,
    tally,
  }) => {
    await tally.navigate(page, '/sign-in');
    await page.getByLabel('Sign-in name').fill('kilbride');
    await page.getByRole('link', { name: 'I forgot my password' }).click();
    await expect(page.getByLabel('Sign-in name or mail address')).toHaveValue('kilbride');
    expect(await accessibilityFaults(page)).toEqual([]);
    await page.getByRole('button', { name: 'Send a link' }).click();
    await expect(page.getByRole('status')).toContainText('a link is on its way there');
    await expect.poll(() => sent(tally, 'A new password'), { timeout: 30_000 }).toBe(1);
    const [mail] = await tally.mails('A new password');
    const [, path] = /(\/welcome#\S+)/.exec(mail!.text)!;
    await page.goto(`${tally.address}${path}`);
    await page.getByLabel('Password, at least eight characters').fill('a-better-one-1');
    await page.getByLabel('The same once more').fill('a-better-one-1');
    await page.getByRole('button', { name: 'Keep it' }).click();
    await page.getByRole('button', { name: 'Go on' }).click();
    await expect(page).toHaveURL(/\/my$/);
  });

  test('a teacher writes to all who have nothing in while mail is down; one asks, is answered, and all hear once', async ({
    page,
    tally,
    another,
  }) => {
    await tally.mailFaults({ down: true });
    await tally.letIn(page, 'aldous');
    await tally.navigate(page, REPORT);
    const write = page.getByRole('button', { name: /^write to those with nothing in/ });
    const n = Number(/\((\d+)\)/.exec(await write.innerText())![1]);
    expect(n).toBeGreaterThan(5);
    await write.click();
    const dialog = page.getByRole('dialog', { name: 'Write to students' });
    await expect(dialog.locator('blockquote')).toContainText('Report: nothing from you yet');
    await expect(dialog.getByLabel('Words', { exact: true })).toBeFocused();
    await dialog.getByLabel('Words', { exact: true }).fill('Dear {given},\n\nthe report is due {due}. It is {score}.');
    await expect(dialog.getByText('{score} cannot be filled in.')).toBeVisible();
    await dialog.getByLabel('Words', { exact: true }).fill('Dear {given},\n\nthe report is due {due}.');
    await expect(dialog.locator('blockquote')).toContainText('the report is due 11 Dec 17:00.');
    expect(await accessibilityFaults(page)).toEqual([]);
    await dialog.getByLabel('Words', { exact: true }).press('Control+Enter');
    await expect(page.locator('footer output')).toContainText(`Written to ${n} students`);
    // Written to within the day: they are left out the next time.
    await expect(write).toHaveText(/\(0\)/);
    expect(await tally.rows(`select count(*)::int as n from journal where kind = 'letter'`)).toEqual([{ n }]);

    const phone = await another(PHONE);
    await tally.letIn(phone, 'kilbride');
    await tally.navigate(phone, '/news');
    const entry = phone.getByRole('listitem').filter({ hasText: 'the report is due 11 Dec 17:00.' });
    await expect(entry).toContainText('Dear Nora,');
    expect(await accessibilityFaults(phone)).toEqual([]);
    await entry.getByRole('button', { name: 'go to it' }).click();
    await phone.getByLabel('Your question').fill('Does the sketch count?');
    await phone.getByRole('button', { name: 'Ask', exact: true }).click();
    await expect(phone.getByText('Not answered yet.')).toBeVisible();

    await tally.navigate(page, '/desk');
    // Behind those that have waited longer.
    await page
      .getByRole('button', { name: /^show \d+ more$/ })
      .first()
      .click();
    await page.locator('a.line', { hasText: 'N. Kilbride' }).filter({ hasText: 'answer' }).click();
    await expect(page).toHaveURL(/arrivals\?student=/);
    await page.getByLabel('Your answer').fill('It is a quarter of it.');
    await page.getByLabel('Your answer').press('Control+Enter');
    await expect(page.getByText('You · ').first()).toBeVisible();
    await expect(page.getByText('Waits for an answer')).toHaveCount(0);
    await phone.reload();
    await expect(phone.getByText('It is a quarter of it.')).toBeVisible();

    // Nothing went while the line was down; then each letter goes once.
    expect(await tally.mails('nothing from you yet')).toEqual([]);
    await tally.mailFaults({});
    await expect.poll(() => sent(tally, 'nothing from you yet'), { timeout: 60_000 }).toBe(n);
    const letters = await tally.mails('nothing from you yet');
    expect(new Set(letters.map((m) => m.messageId)).size).toBe(n);
    expect(letters.filter((m) => m.times > 1)).toEqual([]);
    // What is told, not written, says only that it is there.
    await expect.poll(() => sent(tally, 'an answer to read')).toBe(1);
    expect(await tally.mails('a quarter of it')).toEqual([]);
  });

  test('mail that is refused comes before the office with its reason, and is sent again @long', async ({
    page,
    tally,
  }) => {
    await tally.mailFaults({ refuses: 'farrelly@students.brackenmoor.example' });
    await tally.letIn(page, 'aldous');
    await tally.navigate(page, `${REPORT}?student=${await tally.enrolment('Farrelly')}`);
    await page.getByRole('complementary').getByRole('button', { name: 'write', exact: true }).click();
    const dialog = page.getByRole('dialog', { name: 'Write to students' });
    await dialog.getByLabel('Words', { exact: true }).fill('Come by on Friday.');
    await dialog.getByRole('button', { name: 'Send to 1' }).click();
    await expect(dialog).toBeHidden();
    await expect
      .poll(() => triedAgain(tally).then(() => tally.rows(`select state from mail where kind = 'letter'`)), {
        timeout: 30_000,
      })
      .toEqual([{ state: 'refused' }]);
    await page.reload();
    await expect(page.getByRole('complementary')).toContainText('not delivered: The mail server said: 550');
    await tally.mailFaults({});
    await tally.letIn(page, 'halloran');
    await tally.navigate(page, '/office');
    await expect(page.getByRole('heading', { name: '1 mail could not be delivered' })).toBeVisible();
    await page.getByRole('button', { name: 'send it again' }).click();
    await expect(page.getByText('It is being sent again.')).toBeVisible();
    await expect.poll(() => sent(tally, 'Come by on Friday'), { timeout: 30_000 }).toBe(1);
  });
});
