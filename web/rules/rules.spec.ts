import { describe, expect, it } from 'vitest';
import type { RulesWrite } from '@contract/books';
import { ApiProblem } from '../state/api';
import { openPage, withText } from '../testing/open-book';
import { RulesPage } from './rules';
import { soon } from '../testing/soon';

const labelled = (root: HTMLElement, label: string): HTMLInputElement =>
  root.querySelector<HTMLInputElement>(`[aria-label="${label}"]`)!;
function type(root: HTMLElement, label: string, text: string): void {
  const box = labelled(root, label);
  box.value = text;
  box.dispatchEvent(new Event('input', { bubbles: true }));
  box.dispatchEvent(new Event('change', { bubbles: true }));
}
const press = (root: HTMLElement, text: string): void =>
  withText(root, 'p-button', text).querySelector('button')!.click();

async function opened(answer?: Parameters<typeof openPage>[1]) {
  const page = await openPage(RulesPage, answer);
  const root = page.fixture.nativeElement as HTMLElement;
  await soon(() => expect(root.querySelector('lt-rule-sentence')).not.toBeNull());
  const go = async (part: string): Promise<void> => {
    withText(root, 'nav button', part).click();
    await page.fixture.whenStable();
  };
  return { ...page, root, go };
}

describe('the rules page', () => {
  it('tries a change on the class while it is typed, says why, and drops it without a trace', async () => {
    const { root, text, sent, go, fixture } = await opened();
    await go('Lateness');
    type(root, 'Percent taken', '20');
    await soon(() => expect(text()).toContain('worked out for 2 students'));
    // Birch: 10 of 20 two days late, less 8 in place of 4.
    expect(text()).toContain('30.0 → 10.0');
    await soon(() => expect(text()).toContain('All of them by lateness “steady”.'));
    expect(withText(root, 'nav button', 'Lateness').textContent).toContain('on trial');
    expect(sent).toEqual([]);
    press(root, 'Drop the trial');
    await fixture.whenStable();
    expect(text()).not.toContain('worked out for');
    expect(labelled(root, 'Percent taken').value).toBe('10');
    expect(sent).toEqual([]);
  });

  it('makes rules and settings of assessments together, with their versions and the reason', async () => {
    const { root, text, sent, go, fixture } = await opened();
    await go('Weights');
    type(root, 'Weight of Field work', '80');
    await go('Curves');
    const curve = labelled(root, 'Curve of Moss') as unknown as HTMLSelectElement;
    curve.value = 'add';
    curve.dispatchEvent(new Event('change', { bubbles: true }));
    await soon(() => expect(text()).toContain('2 go up'));
    press(root, 'Make it the rule');
    await fixture.whenStable();
    const why = root.querySelector('textarea')!;
    why.value = 'a hard one';
    why.dispatchEvent(new Event('input', { bubbles: true }));
    await fixture.whenStable();
    press(root, 'Make it the rule');
    await soon(() => expect(sent).toHaveLength(1));
    const body = sent[0]!.body as RulesWrite;
    expect([sent[0]!.method, sent[0]!.path, body.version, body.reason]).toEqual([
      'PUT',
      '/books/fens/rules',
      1,
      'a hard one',
    ]);
    expect(body.items).toEqual([{ assessment: 'moss', version: 1, more: { curve: { kind: 'add', points: 1 } } }]);
    expect(body.rules.tree.children[0]).toMatchObject({ id: 'work', weight: 80, children: [] });
  });

  it('says beside the sentence what is to know of it, and what is wrong with it', async () => {
    const { root, text, go } = await opened();
    await go('Drops');
    const drops = labelled(root, 'What Field work drops') as unknown as HTMLSelectElement;
    drops.value = 'drop';
    drops.dispatchEvent(new Event('change', { bubbles: true }));
    await soon(() => expect(labelled(root, 'How many of the lowest of Field work')).not.toBeNull());
    type(root, 'How many of the lowest of Field work', '5');
    await soon(() => expect(text()).toContain('5 are to be dropped, but there can be only 2 that count'));
    await go('Lateness');
    const name = labelled(root, 'Name of the rule steady');
    name.value = '*odd';
    name.dispatchEvent(new Event('change', { bubbles: true }));
    await soon(() => expect(text()).toContain('A rule has a name of 1 to 60 letters.'));
    expect(name.value).toBe('*odd');
  });

  it('keeps what is tried when somebody else was first, and offers to look at theirs', async () => {
    const { root, text, fixture } = await opened(() => {
      throw new ApiProblem('stale', 'Somebody else changed the rules.');
    });
    type(root, 'Weight of Field work', '50');
    await soon(() => expect(text()).toContain('worked out for'));
    press(root, 'Make it the rule');
    await fixture.whenStable();
    press(root, 'Make it the rule');
    await soon(() => expect(text()).toContain('Somebody else changed the rules.'));
    expect(labelled(root, 'Weight of Field work').value).toBe('50');
    expect(text()).toContain('look at their rules');
  });
});
