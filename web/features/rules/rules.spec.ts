import { TestBed } from '@angular/core/testing';
import { describe, expect, it } from 'vitest';
import { OPEN_SCHOOL, type SchoolRules } from '@core/policy/document';
import { ApiProblem } from '../../data/api';
import { BookStore } from '../../data/book';
import { testPage } from '../../testing/book';
import { openPage, withText } from '../../testing/open-book';
import { RulesPage } from './rules';
import { choose, labelled, type } from '../../testing/controls';
import { soon } from '../../testing/soon';
import type { RulesWrite } from '@contract/rules';

const press = (root: HTMLElement, text: string): void =>
  withText(root, 'p-button', text).querySelector('button')!.click();

async function opened(
  answer?: Parameters<typeof openPage>[1],
  asked?: Parameters<typeof openPage>[2],
  inputs?: Parameters<typeof openPage>[3],
) {
  const page = await openPage(RulesPage, answer, asked, inputs);
  const root = page.fixture.nativeElement as HTMLElement;
  await soon(() => expect(root.querySelector('lt-rule-sentence')).not.toBeNull());
  const go = async (part: string): Promise<void> => {
    withText(root, 'nav button', part).click();
    await page.fixture.whenStable();
  };
  return { ...page, root, go };
}

describe('the rules page', () => {
  it('goes from the rules of one assessment to all of them by the link of the page itself', async () => {
    const { root, fixture } = await opened(undefined, undefined, { of: 'moss' });
    const current = (): string => root.querySelector('nav [aria-current]')!.textContent.trim();
    expect(current()).toContain('Moss');
    fixture.componentRef.setInput('of', undefined);
    await fixture.whenStable();
    await soon(() => expect(current()).toContain('Weights'));
    expect(root.querySelector('nav')!.textContent).not.toContain('Moss');
    fixture.componentRef.setInput('of', 'moss');
    await soon(() => expect(current()).toContain('Moss'));
  });

  it('says what a sentence touches until another part is opened', async () => {
    const { root, go, fixture } = await opened();
    root.querySelector('lt-rule-sentence')!.dispatchEvent(new FocusEvent('focusin', { bubbles: true }));
    await fixture.whenStable();
    expect(root.querySelector('.touched')!.textContent).toContain('Touches');
    await go('Lateness');
    expect(root.querySelector('.touched')).toBeNull();
  });

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
    await choose(fixture, 'Curve of Moss', 'gets more points:');
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
    const { root, text, go, fixture } = await opened();
    await go('Drops');
    await choose(fixture, 'What Field work drops', 'drops the lowest');
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

  it('leaves the box that is typed in where it is, whatever is called otherwise or drawn anew meanwhile', async () => {
    const { root, go, fixture } = await opened();
    await go('Named marks');
    (root.querySelector('[aria-label="A new set of marks"]') as HTMLElement).click();
    await soon(() => expect(labelled(root, 'Name of the marks marks')).not.toBeNull());
    const percent = labelled(root, 'Percent of mark 1 of marks');
    const second = labelled(root, 'Mark 2 of marks');
    const name = labelled(root, 'Name of the marks marks');
    name.focus();
    name.value = 'words';
    name.dispatchEvent(new Event('input', { bubbles: true }));
    // Tab: the name is taken in, the next box has the focus, and then the sentences are drawn under another name.
    name.dispatchEvent(new Event('change', { bubbles: true }));
    second.focus();
    second.value = 'Half typ';
    second.dispatchEvent(new Event('input', { bubbles: true }));
    await fixture.whenStable();
    await soon(() => expect(labelled(root, 'Mark 2 of words')).not.toBeNull());
    expect(labelled(root, 'Mark 2 of words')).toBe(second);
    expect(labelled(root, 'Percent of mark 1 of words')).toBe(percent);
    expect(document.activeElement).toBe(second);
    expect(second.value).toBe('Half typ');
    second.dispatchEvent(new Event('change', { bubbles: true }));
    await soon(() => expect(root.textContent).toContain('on trial'));
    expect(labelled(root, 'Name of the marks words').value).toBe('words');
    expect(second.value).toBe('Half typ');
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
    expect(text()).toContain('drop mine and look at theirs');
  });

  it('makes nothing over what somebody else made since the trial began', async () => {
    let rulesVersion = 1;
    const { root, text, sent, fixture } = await opened(undefined, (path) =>
      path === '/books/fens' ? { ...testPage(), rulesVersion } : undefined,
    );
    type(root, 'Weight of Field work', '50');
    await soon(() => expect(text()).toContain('worked out for'));
    // Theirs comes in while one reads the trial: the server is told on what the trial was made.
    rulesVersion = 2;
    await TestBed.inject(BookStore).reload();
    await fixture.whenStable();
    press(root, 'Make it the rule');
    await fixture.whenStable();
    press(root, 'Make it the rule');
    await soon(() => expect(sent).toHaveLength(1));
    expect((sent[0]!.body as RulesWrite).version).toBe(1);
  });

  it('loses no arrow of a quick hand on a letter’s edge', async () => {
    const { root, go } = await opened();
    await go('Letters');
    const edge = root.querySelector<SVGGElement>('[role=slider]')!;
    const label = edge.getAttribute('aria-label')!.replace('Where ', '').replace(' begins', '');
    const box = (): HTMLInputElement => labelled(root, `From what percentage ${label}`);
    const was = Number(box().value);
    // Both come before the page has come round.
    for (let n = 0; n < 2; n++)
      edge.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowLeft', bubbles: true, cancelable: true }));
    await soon(() => expect(Number(box().value)).toBe(was - 2));
  });

  it('keeps the curve of the assessment that one is on, though the page moves under a resting pointer', async () => {
    const { root, go, fixture } = await opened();
    await go('Curves');
    const shown = (): string => root.querySelector('lt-curve-picture text.what')!.textContent;
    const [first, second] = [...root.querySelectorAll<HTMLElement>('lt-rule-sentence')].filter((s) =>
      s.querySelector('[role=combobox]'),
    ) as [HTMLElement, HTMLElement];
    const moved = async (by: number): Promise<void> => {
      first.dispatchEvent(Object.assign(new Event('pointermove', { bubbles: true }), { movementX: by, movementY: 0 }));
      await fixture.whenStable();
    };
    const before = shown();
    second.querySelector<HTMLElement>('[role=combobox]')!.focus();
    await fixture.whenStable();
    expect(shown()).not.toBe(before);
    const [of, touched] = [shown(), root.querySelector('.touched')!.textContent];
    // What it lies on is said once it moves; the picture stays with the keys even then.
    await moved(0);
    expect([shown(), root.querySelector('.touched')!.textContent]).toEqual([of, touched]);
    await moved(3);
    expect(shown()).toBe(of);
    expect(root.querySelector('.touched')!.textContent).not.toBe(touched);
  });

  it('supposes scores from what it saw of them, tries them, and makes them with these versions', async () => {
    const { root, text, sent, go, fixture } = await opened();
    await go('Suppose');
    press(root, 'Suppose it');
    await soon(() => expect(text()).toContain('Moss, 2 students: raised by 2 points'));
    await soon(() => expect(text()).toContain('All of them by what is supposed.'));
    press(root, 'Make it so');
    await fixture.whenStable();
    press(root, 'Make it so');
    await soon(() => expect(sent).toHaveLength(1));
    const body = sent[0]!.body as RulesWrite;
    expect(body.items).toEqual([]);
    expect(body.cells!.map((c) => [c.enrolment, c.version, c.change])).toEqual([
      ['s1', 4, { kind: 'put', entry: { attempts: [{ score: 18 }] } }],
      ['s2', 1, { kind: 'put', entry: { attempts: [{ score: 12, lateUnits: 2 }] } }],
    ]);
  });

  it('keeps a trial beside, works it out on today’s scores, and takes it up again', async () => {
    const kept: object[] = [];
    const { root, text, sent, go, fixture } = await opened(
      ({ method, body }) => {
        if (method === 'PUT') kept.push({ id: 'one', madeAt: '2026-11-24T09:00:00Z', ...(body as object) });
        return { done: true };
      },
      (path) => (path.endsWith('/trials') ? [...kept] : undefined),
    );
    await go('Lateness');
    type(root, 'Percent taken', '20');
    await soon(() => expect(text()).toContain('30.0 → 10.0'));
    press(root, 'Keep it beside');
    await fixture.whenStable();
    root.querySelector<HTMLInputElement>('#beside-title')!.value = 'Twice as much';
    press(root, 'Keep it beside');
    await soon(() => expect(text()).toContain('Twice as much'));
    await soon(() => expect(root.querySelector('lt-kept-trials table')?.textContent).toContain('10.0 F'));
    expect(sent).toHaveLength(1);
    // It is beside now: nothing is on trial until it is taken up.
    expect(text()).not.toContain('worked out for');
    withText(root, 'lt-kept-trials button', 'take up').click();
    await soon(() => expect(text()).toContain('30.0 → 10.0'));
  });

  const says = (stands: Partial<SchoolRules['stands']>): SchoolRules => ({
    ...OPEN_SCHOOL,
    rules: { ...OPEN_SCHOOL.rules, late: { steady: { unit: 'day', deduct: 10, max: 50 } } },
    late: 'steady',
    stands: { ...OPEN_SCHOOL.stands, ...stands },
  });
  const school = (rules: SchoolRules) => (path: string) =>
    path === '/school-rules' ? { version: 1, rules, made: null } : undefined;

  it('departs from the school’s rules with a reason alone, says what the school says, and leads back to it', async () => {
    const { root, text, sent, go, fixture } = await opened(undefined, school(says({ late: 'begins' })));
    await go('Lateness');
    await soon(() => expect(text()).toContain('As the school has it.'));
    type(root, 'Percent taken', '20');
    await soon(() => expect(text()).toContain('This book departs from the school’s rules.'));
    expect(text()).toContain('The school: Work that comes in late loses steadily 10 %');
    press(root, 'Make it the rule');
    await fixture.whenStable();
    expect(text()).toContain('Why? This departs from the school’s rules for lateness');
    const make = withText(root, 'p-button', 'Make it the rule').querySelector('button')!;
    expect(make.disabled).toBe(true);
    const why = root.querySelector('textarea')!;
    why.value = 'the marsh is under water';
    why.dispatchEvent(new Event('input', { bubbles: true }));
    await soon(() => expect(make.disabled).toBe(false));
    withText(root, 'button', 'as the school has it').click();
    await soon(() => expect(text()).toContain('As the school has it.'));
    expect(labelled(root, 'Percent taken').value).toBe('10');
    expect(text()).not.toContain('worked out for');
    expect(sent).toEqual([]);
  });

  it('leaves no word to change that the school has fixed, and makes nothing that departs from it', async () => {
    const { root, text, go, fixture } = await opened(undefined, school(says({ late: 'fixed' })));
    await go('Lateness');
    await soon(() => expect(text()).toContain('Books may not depart from this.'));
    expect(labelled(root, 'Percent taken').disabled).toBe(true);
    await choose(fixture, 'Rule of Field work', 'no rule');
    await soon(() => expect(text()).toContain('The school has fixed lateness: a book may not depart from it.'));
    await soon(() =>
      expect(withText(root, 'p-button', 'Make it the rule').querySelector('button')!.disabled).toBe(true),
    );
  });
});
