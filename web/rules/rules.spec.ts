import { openPage, withText } from '../testing/open-book';
import { RulesPage } from './rules';
import { soon } from '../testing/soon';

describe('the rules page', () => {
  it('tries a change on the class before it is made, and drops it without a trace', async () => {
    const page = await openPage(RulesPage);
    const root = page.fixture.nativeElement as HTMLElement;
    withText(root, 'nav button', 'Lateness').click();
    await page.fixture.whenStable();
    const percent = root.querySelector<HTMLInputElement>('input[aria-label="Percent taken"]')!;
    percent.value = '20';
    percent.dispatchEvent(new Event('input', { bubbles: true }));
    percent.dispatchEvent(new Event('change', { bubbles: true }));
    percent.dispatchEvent(new Event('blur', { bubbles: true }));
    await soon(() => expect(page.text()).toContain('worked out for 2 students'));
    // Birch: 10 of 20 two days late, less 8 in place of 4.
    expect(page.text()).toContain('30.0 → 10.0');
    expect(page.sent).toEqual([]);
    withText(root, 'p-button', 'Drop the trial').querySelector('button')!.click();
    await page.fixture.whenStable();
    expect(page.text()).not.toContain('worked out for');
    expect(page.sent).toEqual([]);
  });
});
