import { accessibilityFaults } from './axe';
import { expect, test, WETLAND, type Tally } from './tally';
import type { Page } from '@playwright/test';

const name = (page: Page) => page.getByRole('heading', { level: 1 });
const counts = (page: Page) => page.getByRole('group', { name: 'What counts' });

/** Everybody in the wetland book hands in a short text for a new assessment of 20, marked by four criteria. */
async function classHandsIn(page: Page, tally: Tally): Promise<string> {
  const id = 'vegetation';
  const teacher = await tally.as('aldous');
  const place = `/books/${WETLAND}/assessments`;
  const criterion = (name: string) => ({
    ...{ id: name, title: name, stands: 'counts' },
    levels: [1, 3, 4, 5].map((points, i) => ({ id: `${name}-${i}`, points, words: `${name} ${i + 1}` })),
  });
  await teacher('POST', place, {
    ...{ id, title: 'Vegetation', category: 'notebooks', points: 20, due: '2026-12-01T17:00:00Z', closes: null },
    ...{ takesWork: true, work: {}, more: {} },
  });
  const rubric = { by: 'points', criteria: ['Species', 'Cover', 'Method', 'Reading'].map(criterion) };
  await teacher('PUT', `${place}/${id}/rubric`, { version: 0, rubric });
  await teacher('PUT', `/books/${WETLAND}/phrases/hand`, { version: 0, scope: 'own', words: 'Give the hand lens its due, {given}.' }); // prettier-ignore
  const students = await tally.rows<{ login: string }>(
    `select p.login from enrolment e join person p on p.school = e.school and p.id = e.person
       where e.book = $1 and e.left_at is null`,
    [WETLAND],
  );
  for (const { login } of students) {
    const student = await tally.as(login);
    const at = `/my/books/${WETLAND}/assessments/${id}`;
    const { version, id: submission } = await student<{ version: number; id: string }>('PUT', `${at}/work`, { version: 0, typed: `Reed and sedge, ${login}.`, link: '' }); // prettier-ignore
    await student('POST', `${at}/hand-in`, { submission, version, statement: null, pressedAt: '2026-11-24T09:00:00Z' });
  }
  expect(students).toHaveLength(21);
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/marking/${id}`);
  return id;
}

test('a class of twenty-one is marked by keyboard alone: four levels, a phrase, and on to the next @long', async ({
  page,
  tally,
}) => {
  test.setTimeout(180_000);
  const id = await classHandsIn(page, tally);
  await expect(page.getByText('21 to mark', { exact: true })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'End note' })).toBeVisible();
  expect(await accessibilityFaults(page)).toEqual([]);
  let pressed = 0;
  const press = async (key: string): Promise<void> => {
    pressed++;
    await page.keyboard.press(key);
  };
  // Whatever is given, the ruler shows all of it and moves nothing above it.
  const foot = () =>
    page.locator('.foot').evaluate((foot) => {
      const { height } = foot.parentElement!.getBoundingClientRect();
      return { height, hidden: Math.max(0, foot.scrollHeight - Math.ceil(height)) };
    });
  await expect.poll(async () => (await foot()).height).toBeGreaterThan(164);
  let { height } = await foot();
  for (let n = 0; n < 21; n++) {
    const who = await name(page).innerText();
    for (const key of ['4', '3', '2', '4']) await press(key);
    const now = await foot();
    expect(now).toEqual({ height: Math.max(height, now.height), hidden: 0 });
    ({ height } = now);
    // A quick hand goes on at once.
    if (n % 2 === 0) await expect(page.getByRole('combobox', { name: 'Phrase' })).toBeFocused();
    for (const key of ['/', 'h', 'Enter']) await press(key);
    await expect(page.getByRole('textbox', { name: 'End note' })).toContainText(`Give the hand lens its due, ${who.split(', ')[1]}.`); // prettier-ignore
    await expect(counts(page)).toContainText('17.0marked');
    if (n === 20) break;
    await press('n');
    await expect(name(page)).not.toHaveText(who);
    await expect(page.getByRole('textbox', { name: 'End note' })).toBeVisible();
  }
  expect(pressed).toBe(21 * 8 - 1);
  // Narrower it is measured anew, and the rule that has the keys is in sight.
  await page.setViewportSize({ width: 900, height: 800 });
  await expect.poll(async () => (await foot()).hidden).toBe(0);
  await page.getByRole('slider').first().focus();
  for (const key of ['4', '3', '2']) await page.keyboard.press(key);
  await expect(page.getByRole('slider').last()).toBeFocused();
  await expect(page.getByRole('slider').last()).toBeInViewport({ ratio: 0.9 });
  await expect(page.getByText('0 to mark', { exact: true })).toBeVisible();
  await expect
    .poll(() =>
      tally.rows(
        `select count(*)::int as scored, count(distinct a.score)::int as scores from attempt a
           where a.book = $1 and a.assessment = $2 and a.score = 17`,
        [WETLAND, id],
      ),
    )
    .toEqual([{ scored: 21, scores: 1 }]);
  await expect
    .poll(() =>
      tally.rows(`select count(*)::int as notes from end_note where book = $1 and assessment = $2`, [WETLAND, id]),
    ) // prettier-ignore
    .toEqual([{ notes: 21 }]);
  await expect.poll(() => tally.rows(`select count(*)::int as uses from phrase_use`)).toEqual([{ uses: 21 }]);
});
