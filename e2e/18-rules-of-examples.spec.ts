import type { Page } from '@playwright/test';
import { BOOK, exampleBook, exampleFile, exampleNames, makeExample, openRules } from './example-book';
import { chooseOption, expect, test } from './tally';

test.use({ empty: true });

/** The rules page by hand. */
class Hand {
  constructor(private readonly page: Page) {}

  part(title: string): Promise<void> {
    return this.page
      .getByRole('navigation', { name: 'Kinds of rules' })
      .getByRole('button', { name: new RegExp(`^${title}`) })
      .click();
  }
  async number(label: string, value: number): Promise<void> {
    const box = this.page.getByRole('textbox', { name: label, exact: true });
    await box.fill(String(value));
    await box.press('Tab');
  }
  word = async (label: string, text: string): Promise<void> => {
    const box = this.page.getByRole('textbox', { name: label, exact: true });
    await box.fill(text);
    await box.press('Tab');
  };
  async choose(label: string, text: string): Promise<void> {
    await chooseOption(this.page, label, text);
  }
  act(label: string): Promise<void> {
    return this.page.getByRole('button', { name: label, exact: true }).click();
  }
  async tick(label: string, ...texts: string[]): Promise<void> {
    for (const text of texts) {
      await this.page.getByTitle(label, { exact: true }).click();
      await this.page.getByRole('menuitemcheckbox', { name: text }).click();
    }
  }
  /** The letters that every example has. */
  async letters(): Promise<void> {
    await this.part('Letters');
    await this.choose('Which letters', 'letters by a new scale');
    for (const [label, from] of [
      ['A', 90],
      ['B', 80],
      ['C', 70],
      ['D', 60],
    ] as const)
      // prettier-ignore
      await this.number(`From what percentage ${label}`, from);
  }
  async make(): Promise<void> {
    const trial = this.page.locator('aside');
    await expect(trial).toContainText('worked out for');
    await this.page.keyboard.press('Control+Enter');
    await this.page.getByLabel(/^Why\?/).press('Control+Enter');
    await expect(this.page.locator('footer')).toContainText('The rule is made.');
  }
}

/** How each of these is set up with the pages alone. Between them they use every kind of rule. */
const BY_HAND: Record<string, (h: Hand, page: Page, address: string) => Promise<void>> = {
  '05-late-days-skip-weekend': async (h) => {
    await h.part('Lateness');
    await h.act('A new rule for lateness');
    await h.choose('The rule of the book', '“steady”');
    await h.number('Percent at most', 100);
    await h.tick('Days of the week that are not counted', 'Saturdays', 'Sundays');
    await h.make();
  },
  '07-late-steps-floor-of-earned': async (h) => {
    await h.part('Weights');
    await h.choose('How what is in the whole counts', 'each alike');
    await h.part('Lateness');
    await h.act('A new rule for lateness');
    await h.choose('Steady or in steps', 'in steps');
    await h.number('Percent of step 1', 5);
    await h.number('Percent of step 2', 20);
    await h.number('Hours of step 2', 48);
    await h.number('Percent after the steps', 60);
    await h.number('Percent at most', 100);
    await h.number('Minutes of grace', 0);
    await h.number('Late floor', 40);
    await h.word('Name of the rule steady', 'steps');
    await h.act('A new rule for lateness');
    await h.number('Percent taken (steady)', 25);
    await h.choose('Percent of what (steady)', 'points earned');
    await h.number('Percent at most (steady)', 100);
    await h.number('Minutes of grace (steady)', 0);
    await h.choose('The rule of the book', '“steps”');
    await h.choose('An assessment by another rule', 'b');
    await h.choose('Rule of b', '“steady”');
    await h.make();
  },
  '09-attempts': async (h) => {
    await h.part('Weights');
    await h.choose('How what is in the whole counts', 'each alike');
    await h.part('Attempts');
    for (const i of exampleBook('09-attempts').tree.children) {
      if (i.type !== 'item') continue;
      const use: Record<string, string> = { best: 'the best', latest: 'the latest', first: 'the first', mean: 'the average' }; // prettier-ignore
      await h.choose(`Which attempt of ${i.id} counts`, use[i.attempts?.use ?? 'best']!);
      if (i.attempts?.retakeCap === undefined) continue;
      await h.choose(`What later attempts of ${i.id} can earn`, 'at most');
      await h.number(`Most for later attempts of ${i.id}`, i.attempts.retakeCap as number);
    }
    await h.make();
  },
  '14-curves-and-marks': async (h, page, address) => {
    await h.part('Weights');
    await h.choose('How what is in the whole counts', 'each alike');
    await h.part('Curves');
    await h.choose('Curve of add', 'gets more points:');
    await h.number('Points that the curve moves of add', 3);
    await h.choose('Curve of top', 'has full marks at');
    await h.number('Points that are full marks of top', 36);
    await h.choose('Curve of line', 'follows a line:');
    await h.number('Point 2, counts of line', 26);
    await h.part('Named marks');
    await h.act('A new set of marks');
    await h.word('Name of the marks marks', 'words');
    await h.word('Mark 1 of words', 'Strong');
    await h.number('Percent of mark 1 of words', 92.5);
    await h.word('Mark 2 of words', 'Sound');
    await h.number('Percent of mark 2 of words', 71);
    await h.act('A mark more in words');
    await h.word('Mark 3 of words', 'Thin');
    await h.number('Percent of mark 3 of words', 48);
    await h.make();
    await page.goto(`${address}/book/${BOOK}/assessments/viva`);
    await chooseOption(page, 'How it is scored', 'as Strong / Sound / Thin');
    await page.getByRole('button', { name: 'Keep the changes' }).click();
    await expect(page.locator('footer')).toContainText('viva: kept.');
  },
  '15-empty-category': async (h) => {
    await h.part('Weights');
    await h.choose('How what is in the whole counts', 'by weights of their own');
    await h.number('Weight of labs', 50);
    await h.number('Weight of work', 50);
    await h.part('Blanks');
    await h.choose('Rule of labs', 'a rule of its own');
    await h.choose('A blank past its day (another rule)', 'is left out too');
    await h.choose('The rule of the book', '“another rule”');
    await h.choose('labs with nothing in it that counts', 'counts what never came as 0');
    await h.make();
  },
  '16-bonus-beside-drops': async (h) => {
    await h.part('Weights');
    await h.choose('How what is in the whole counts', 'each alike');
    const { tree } = exampleBook('16-bonus-beside-drops');
    await h.part('Extra credit');
    for (const i of tree.children) if (i.extraCredit) await h.tick('Extra credit in the whole', i.id);
    await h.part('Drops');
    await h.choose('What the whole drops', 'keeps the best');
    await h.number('How many of the best of the whole', tree.keepBest!);
    await h.make();
  },
  '17-hurdle-waits': async (h) => {
    await h.part('Weights');
    await h.choose('How what is in the whole counts', 'by weights of their own');
    await h.number('Weight of exam', 50);
    await h.number('Weight of work', 50);
    await h.part('Extra credit');
    await h.tick('Only shown in the whole', 'safety');
    await h.part('Hurdles');
    await h.act('A hurdle more');
    await h.choose('What hurdle 1 is in', 'exam');
    await h.act('A hurdle more');
    await h.choose('What hurdle 2 is in', 'safety');
    await h.number('Least of hurdle 2', 100);
    await h.number('Most below hurdle 2', 44);
    await h.make();
  },
};

/** Of those that come as a file these stand for all; web/features/rules/rules-of-examples.spec.ts brings in every one. */
const BY_FILE = ['02-blank-and-missing', '13-hurdle-override-range'];

/** One of each kind; the others are set by the same hands in `npm run test:long`. */
const SHORT = ['02-blank-and-missing', '05-late-days-skip-weekend'];

for (const name of exampleNames()) {
  const hand = BY_HAND[name];
  if (!hand && !BY_FILE.includes(name)) continue;
  const tag = SHORT.includes(name) ? [] : ['@long'];
  test(
    `the rules of ${name}, ${hand ? 'set by the pages' : 'brought in as a file'}, lead to its figures`,
    { tag },
    async ({ page, tally }) => {
      const book = exampleBook(name);
      const school = await makeExample(page, tally, book);
      await openRules(page, tally);
      const h = new Hand(page);
      if (hand) {
        await h.letters();
        await hand(h, page, tally.address);
      } else {
        await h.part('Paper and file');
        await page.getByLabel('A file of rules').setInputFiles(exampleFile(name));
        await h.make();
      }
      await school.enterWork();
      await school.expectResult(name);
    },
  );
}
