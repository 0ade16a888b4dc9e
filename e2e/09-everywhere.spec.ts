import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { comeToRest } from './axe';
import { expect, test, WETLAND, type Tally } from './tally';

/** Looks for faults on the pages that are open, one after the other, and fails with all of them. */
class Audit {
  private readonly found: Record<string, string[]> = {};

  constructor(private readonly page: Page) {}

  /** Every rule in light; then in dark only what a scheme changes: the colours. */
  async look(name: string, include: string, exclude: string[] = []): Promise<void> {
    const axe = (): AxeBuilder => {
      const builder = new AxeBuilder({ page: this.page }).include(include);
      for (const e of exclude) builder.exclude(e);
      return builder;
    };
    await this.keep(name, axe().options({ resultTypes: ['violations'] }));
    await this.page.emulateMedia({ colorScheme: 'dark' });
    await expect(this.page.locator('html')).toHaveClass(/dark/);
    await this.keep(
      `${name}, dark`,
      axe().options({ resultTypes: ['violations'], runOnly: { type: 'rule', values: ['color-contrast'] } }),
    );
    await this.page.emulateMedia({ colorScheme: 'light' });
    await expect(this.page.locator('html')).not.toHaveClass(/dark/);
  }

  private async keep(name: string, axe: AxeBuilder): Promise<void> {
    await comeToRest(this.page);
    const { violations } = await axe.analyze();
    this.found[name] = violations.map(
      (v) =>
        `${v.id}: ${v.nodes
          .map((n) => n.target.join(' '))
          .slice(0, 3)
          .join(' | ')}`,
    );
  }

  end(): void {
    expect(Object.fromEntries(Object.entries(this.found).filter(([, f]) => f.length > 0))).toEqual({});
  }
}

async function openedOver(page: Page, tally: Tally, audit: Audit): Promise<void> {
  const rows = ['.row:nth-child(n+4)', 'lt-journal li:nth-child(n+4)'];
  await tally.openLedger(page);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('so');
  await audit.look('jump', 'body', rows);
  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  await page.getByRole('dialog').waitFor();
  await audit.look('keys', 'body', rows);
  await page.keyboard.press('Escape');
  await page.getByRole('dialog').waitFor({ state: 'hidden' });
  await page.getByRole('button', { name: 'everyone', exact: true }).click();
  await audit.look('menu', '.cdk-overlay-container');
  await page.getByRole('menu').getByText('missing work', { exact: true }).click();
  for (const face of ['history', 'column']) {
    await page.getByRole('button', { name: face, exact: true }).click();
    await page
      .locator(face === 'history' ? 'lt-cell-history li' : 'lt-spread-picture svg')
      .first()
      .waitFor();
    await audit.look(face, 'body', rows);
  }
  await page.getByRole('button', { name: 'larger, or beside another' }).click();
  await audit.look('numbers', '.p-dialog');
  await page.keyboard.press('Escape');
  await page.keyboard.press('F1');
  await page.locator('lt-guide-reader h1').waitFor();
  await audit.look('guide', 'lt-guide-beside');
}

async function openedRulesAndJournal(page: Page, tally: Tally, audit: Audit): Promise<void> {
  await tally.navigate(page, `/book/${WETLAND}/rules`);
  await page.getByLabel('Weight of Checks').fill('20');
  await page.locator('.counts').waitFor();
  for (const part of ['Lateness', 'Letters', 'Curves', 'Suppose', 'Paper and file']) {
    await page.getByRole('navigation', { name: 'Kinds of rules' }).getByRole('button', { name: part }).click();
    await audit.look(part, 'lt-rules');
  }
  await tally.navigate(page, `/book/${WETLAND}/journal`);
  await page.getByRole('button', { name: 'put back …' }).first().click();
  await page.getByLabel('Why (stands in the journal)').waitFor();
  await audit.look('put back', '.p-dialog');
}

const PAGES: [title: string, pages: (farrelly: string) => [path: string, ready: string][]][] = [
  [
    'the desk and making',
    () => [
      ['/desk', '.line'],
      ['/new-book', 'form'],
      [`/book/${WETLAND}/ledger`, '.standing b'],
      [`/book/${WETLAND}/assessments`, '.one'],
      [`/book/${WETLAND}/assessments/check-1`, 'fieldset'],
      [`/book/${WETLAND}/people`, 'tbody tr'],
    ],
  ],
  [
    'rules, exceptions and single students',
    (farrelly) => [
      [`/book/${WETLAND}/exceptions`, 'tr[data-key]'],
      [`/book/${WETLAND}/rules?of=check-1`, 'lt-rule-sentence'],
      [`/book/${WETLAND}/rules`, 'lt-rule-sentence'],
      [`/book/${WETLAND}/rehearsal`, 'input.score'],
      [`/book/${WETLAND}/student/${farrelly}/check-1`, 'input.score'],
      [`/book/${WETLAND}/student/${farrelly}`, 'lt-term-line path'],
    ],
  ],
  [
    'coming in and going out',
    () => [
      [`/book/${WETLAND}/intake`, 'textarea'],
      [`/book/${WETLAND}/release?assessment=soil-pit`, 'tbody tr'],
      [`/book/${WETLAND}/closing`, 'tbody .serif'],
      [`/book/${WETLAND}/journal`, 'lt-journal .line'],
      ['/settings', 'p-radiobutton'],
      ['/guide/ledger', 'lt-guide-reader section'],
    ],
  ],
];

test.describe('no fault that axe finds, light and dark:', { tag: '@long' }, () => {
  // Colours change at once, so that none is looked at half way.
  test.use({ colorScheme: 'light', contextOptions: { reducedMotion: 'reduce' } });

  for (const [title, pages] of PAGES)
    test(title, async ({ page, tally }) => {
      const audit = new Audit(page);
      await tally.signIn(page, 'aldous');
      for (const [path, ready] of pages(await tally.enrolment('Farrelly'))) {
        await tally.navigate(page, path);
        await page.locator(ready).first().waitFor();
        // Of the many like rows of the ledger a few stand for all: axe takes seconds for each hundred cells.
        await audit.look(path, 'body', ['.row:nth-child(n+6)']);
      }
      audit.end();
    });

  test('what opens over the ledger', async ({ page, tally }) => {
    const audit = new Audit(page);
    await tally.signIn(page, 'aldous');
    await openedOver(page, tally, audit);
    audit.end();
  });

  test('what opens on rules and journal', async ({ page, tally }) => {
    const audit = new Audit(page);
    await tally.signIn(page, 'aldous');
    await openedRulesAndJournal(page, tally, audit);
    audit.end();
  });

  test('signing in, the student and the office', async ({ page, tally }) => {
    const audit = new Audit(page);
    await tally.navigate(page, '/sign-in');
    await audit.look('sign-in', 'body');
    await tally.letIn(page, 'farrelly');
    await tally.navigate(page, `/my/${WETLAND}`);
    await page.locator('.figure').first().waitFor();
    await audit.look('student', 'body');
    await tally.signIn(page, 'halloran');
    await page.locator('tbody td').first().waitFor();
    await audit.look('office', 'body');
    await tally.navigate(page, '/office/rules');
    await page.getByRole('button', { name: /^Lateness/ }).click();
    await page.getByLabel('Percent taken').fill('20');
    await page.getByRole('button', { name: /^Soil Science/ }).click();
    await page.locator('aside tbody').waitFor();
    await audit.look('school rules', 'body');
    for (const part of ['Closed days', 'Departures', 'Versions']) {
      await page.getByRole('button', { name: new RegExp(`^${part}`) }).click();
      await audit.look(`school rules, ${part}`, 'lt-school-rules');
    }
    audit.end();
  });
});

test('a term of eleven assessments fits at 1280 pixels without scrolling sideways', async ({ page, tally }) => {
  await tally.signIn(page, 'aldous');
  for (const book of [WETLAND, 'soil-science-1']) {
    await tally.navigate(page, `/book/${book}/ledger`);
    await expect(page.locator('.standing b').first()).not.toBeEmpty();
    expect(await page.locator('.grid').evaluate((g) => g.scrollWidth - g.clientWidth)).toBe(0);
  }
  // No cell's deduction touches its score.
  const overlaps = await page.locator('.cell:has(i)').evaluateAll((cells) =>
    cells
      .filter((c) => {
        const score = document.createRange();
        score.selectNodeContents(c.lastChild!);
        return c.querySelector('i')!.getBoundingClientRect().right > score.getBoundingClientRect().left;
      })
      .map((c) => c.textContent),
  );
  expect(overlaps).toEqual([]);
});
