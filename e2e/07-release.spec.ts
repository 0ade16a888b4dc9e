import { cellOf, expect, test, WETLAND } from './tally';

test('an assessment is released to some: pencil becomes ink, and the student reads it with its working', async ({
  page,
  tally,
  another,
}) => {
  const student = await another();
  const got: string[] = [];
  student.on('response', async (r) => {
    if (r.url().includes('/api/')) got.push(await r.text().catch(() => ''));
  });
  await tally.letIn(student, 'farrelly');
  await tally.navigate(student, `/my/${WETLAND}`);
  await student.getByRole('button', { name: /Level & staff/ }).click();
  await expect(student.getByText('Your score stands here once your teacher has released it.')).toBeVisible();
  const standing = await student.locator('.standing b').textContent();

  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const cell = await cellOf(page, 'Farrelly', 'Level & staff');
  await expect(cell).toHaveClass(/pencil/);
  const score = await cell.textContent();
  await page.getByRole('link', { name: /Release/ }).click();
  await page.getByRole('button', { name: /^Level & staff/ }).click();
  await page.getByRole('checkbox', { name: 'Everybody' }).check();
  await page.getByRole('checkbox', { name: 'Everybody' }).uncheck();
  await expect(page.getByRole('checkbox', { name: 'Farrelly, Con' })).not.toBeChecked();
  await page.getByRole('checkbox', { name: 'Farrelly, Con' }).check();
  await page.getByRole('button', { name: 'Release to 1 …' }).click();
  await expect(page.getByRole('dialog')).toContainText(
    '1 student will see their score with its working, and their standing anew.',
  );
  await page.getByRole('dialog').getByRole('button', { name: 'Release' }).click();
  await expect(page.locator('footer output')).toContainText('1 student sees it now.');
  const id = await tally.enrolment('Farrelly');
  expect(
    await tally.rows(
      `select enrolment, withdrawn_at from released_entry where book = $1 and assessment = 'level-staff'`,
      [WETLAND],
    ),
  ).toEqual([{ enrolment: id, withdrawn_at: null }]);
  await page.getByRole('link', { name: 'Ledger' }).click();
  await expect(await cellOf(page, 'Farrelly', 'Level & staff')).toHaveClass(/ink/);
  await expect(await cellOf(page, 'Grzybek', 'Level & staff')).toHaveClass(/pencil/);

  await student.reload();
  await student.getByRole('button', { name: /Level & staff/ }).click();
  await expect(student.locator('.figure b').first()).toHaveText(score!.trim());
  await student.getByRole('button', { name: 'how it came about', exact: true }).click();
  await expect(student.locator('lt-statement-view .one')).toContainText('Counts as');
  await expect(student.locator('lt-statement-view .one')).toContainText('released 24 Nov 09:00 by R. Aldous');
  await expect(student.locator('.standing b')).not.toHaveText(standing!);
  await student.getByRole('button', { name: 'the whole working', exact: true }).click();
  await expect(student.locator('lt-statement-view .all')).toContainText('Together');

  // A later change is not seen until it is released.
  await (await cellOf(page, 'Farrelly', 'Level & staff')).click();
  await page.keyboard.type('1');
  await page.keyboard.press('Enter');
  await expect(await cellOf(page, 'Farrelly', 'Level & staff')).toHaveClass(/changed/);
  await expect
    .poll(() =>
      tally.rows(`select score::float as score from attempt where assessment = 'level-staff' and enrolment = $1`, [id]),
    )
    .toEqual([{ score: 1 }]);
  await student.reload();
  await student.getByRole('button', { name: /Level & staff/ }).click();
  await expect(student.locator('.figure b').first()).toHaveText(score!.trim());

  // Nothing of others, and nothing unreleased, was in any answer.
  const others = await tally.rows<{ id: string; family: string }>(
    `select e.id, p.family from enrolment e join person p on p.id = e.person where e.book = $1 and p.family <> 'Farrelly'`,
    [WETLAND],
  );
  expect(got.length).toBeGreaterThan(3);
  const all = got.join('\n');
  for (const o of others) {
    expect(all).not.toContain(o.id);
    expect(all).not.toContain(`"${o.family}`);
  }
});

test('a standing is seen only where the teacher shows it, and what is withdrawn is gone at once', async ({
  page,
  tally,
  another,
}) => {
  const student = await another();
  await tally.letIn(student, 'farrelly');
  await tally.navigate(student, `/my/${WETLAND}`);
  await expect(student.getByRole('heading', { name: 'Where you stand' })).toBeVisible();
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/release?assessment=check-1`);
  await page.getByRole('checkbox', { name: /students see their standing/ }).uncheck();
  await expect
    .poll(() => tally.rows('select shows_standing from book where id = $1', [WETLAND]))
    .toEqual([{ shows_standing: false }]);
  await page.getByRole('checkbox', { name: 'Farrelly, Con' }).check();
  await page.getByRole('button', { name: 'Withdraw from 1 …' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.locator('footer output')).toContainText('1 student does not see it any more');
  await student.reload();
  await expect(student.getByRole('heading', { name: 'Piece by piece' })).toBeVisible();
  await expect(student.getByRole('heading', { name: 'Where you stand' })).toHaveCount(0);
  await expect(student.getByRole('button', { name: /^Check 1/ })).toContainText('was due 12 Oct');
});
