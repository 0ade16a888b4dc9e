import { describe, expect, it } from 'vitest';
import { OPEN_SCHOOL, type SchoolRules } from '@core/policy/document';
import type { SchoolRulesState, PolicyRollout, RolloutBook } from '@contract/policy';
import { ApiProblem } from '../../../data/api';
import { openPage, withText, type Sent } from '../../../testing/open-book';
import { choose } from '../../../testing/controls';
import { soon } from '../../../testing/soon';
import { PolicyPage } from './policy-page';

const RULES: SchoolRules = { ...OPEN_SCHOOL, stands: { ...OPEN_SCHOOL.stands, rounding: 'begins' } };
const BOOK: RolloutBook = {
  book: 'fens',
  title: 'Fens',
  term: 'Autumn',
  state: 'takes',
  says: '',
  students: 20,
  up: 3,
  down: 1,
  crossing: 2,
  readers: 1,
  departs: ['letters'],
};
const WAITS: RolloutBook = {
  ...BOOK,
  book: 'hills',
  title: 'Hills',
  state: 'waits',
  up: 0,
  down: 0,
  crossing: 0,
  readers: 0,
  departs: [],
};

interface Server {
  state: SchoolRulesState;
  rollout: Omit<PolicyRollout, 'id'>;
  fails?: Error;
}

async function opened(server: Server) {
  const asked = (path: string): unknown => {
    if (path === '/school-rules') return server.state;
    if (path === '/school-rules/versions')
      return [
        { version: 2, rules: RULES, at: '2026-11-02T09:00:00Z', by: 'B. Office', reason: 'one decimal' },
        { version: 1, rules: OPEN_SCHOOL, at: '2026-10-02T09:00:00Z', by: 'B. Office', reason: 'a beginning' },
      ];
    if (path === '/school-rules/deviations') return [];
    if (path.endsWith('/books/fens'))
      return [
        {
          enrolment: 's1',
          name: 'Ada Adler',
          before: { percent: '79.5', letter: 'B' },
          after: { percent: '80.0', letter: 'A' },
          moves: '+0.5',
        },
      ];
    return { id: path.split('/').pop(), ...server.rollout };
  };
  const page = await openPage(
    PolicyPage,
    ({ method }: Sent) => {
      if (server.fails) throw server.fails;
      return method === 'PUT' ? { version: 3, rollout: 'made' } : { done: true };
    },
    asked,
  );
  const root = page.fixture.nativeElement as HTMLElement;
  await soon(() => expect(root.querySelector('lt-rule-sentence')).not.toBeNull());
  withText(root, 'nav button', 'Rounding').click();
  await page.fixture.whenStable();
  const decimals = async (to: string): Promise<void> => {
    const box = root.querySelector<HTMLInputElement>('[aria-label="Decimals"]')!;
    box.value = to;
    box.dispatchEvent(new Event('input', { bubbles: true }));
    box.dispatchEvent(new Event('change', { bubbles: true }));
    await page.fixture.whenStable();
  };
  const press = (text: string): void => withText(root, 'p-button', text).querySelector('button')!.click();
  return { ...page, root, decimals, press };
}
const STATE: SchoolRulesState = { version: 2, rules: RULES, made: null };

describe('the school’s page of rules', () => {
  it('tries a change over all books once the words rest, says how far it is, and who moves in which', async () => {
    const server: Server = { state: STATE, rollout: { kind: 'trial', version: 2, books: [BOOK, WAITS] } };
    const { root, text, sent, decimals } = await opened(server);
    await decimals('2');
    await decimals('3');
    await soon(() => expect(text()).toContain('Worked out for 1 of 2 books …'));
    // The words in between were not tried.
    expect(sent.map((s) => s.method)).toEqual(['POST']);
    expect((sent[0]!.body as { rules: SchoolRules }).rules.rounding.decimals).toBe(3);
    server.rollout.books = [BOOK, { ...WAITS, state: 'refused', says: 'Somebody has “Nearly” on Viva.' }];
    await soon(() => expect(text()).toContain('Worked out for all 2 books'));
    expect(text()).toContain('4 of 20 move: 3 up, 1 down; 2 change letter; departs in letters');
    expect(text()).toContain('Hills cannot take this on. Somebody has “Nearly” on Viva.');
    expect(text()).toContain('1 of them has read a standing.');
    withText(root, 'li button', 'Fens').click();
    const cells = () => [...root.querySelectorAll('aside td')].map((d) => d.textContent!.trim());
    await soon(() => expect(cells()).toEqual(['Ada Adler', '79.5 → 80.0', 'B → A']));
  });

  it('ends a trial that is stopped or dropped, and begins it anew', async () => {
    const server: Server = { state: STATE, rollout: { kind: 'trial', version: 2, books: [WAITS] } };
    const { root, text, sent, decimals, press } = await opened(server);
    await decimals('2');
    await soon(() => expect(text()).toContain('Worked out for 0 of 1 books …'));
    withText(root, 'aside button', 'stop').click();
    await soon(() => expect(text()).toContain('The trial was stopped.'));
    const { id } = sent[0]!.body as { id: string };
    expect(sent.map((s) => `${s.method} ${s.path}`)).toEqual([
      'POST /school-rules/rollouts',
      `DELETE /school-rules/rollouts/${id}`,
    ]);
    withText(root, 'aside button', 'Work it out anew').click();
    await soon(() => expect(text()).toContain('Worked out for 0 of 1 books …'));
    press('Drop the trial');
    await soon(() => expect(sent).toHaveLength(4));
    await soon(() => expect(text()).not.toContain('Worked out for'));
    expect(root.querySelector<HTMLInputElement>('[aria-label="Decimals"]')!.value).toBe('1');
  });

  it('makes it with a reason, once, and says which books have taken it on', async () => {
    const server: Server = { state: STATE, rollout: { kind: 'trial', version: 2, books: [BOOK] } };
    const { root, text, sent, decimals, press, fixture } = await opened(server);
    await decimals('2');
    await soon(() => expect(text()).toContain('Worked out for the one book'));
    press('Make it the school’s rule …');
    await fixture.whenStable();
    const make = withText(root, 'p-button', 'Make it the school’s rule').querySelector('button')!;
    expect(make.disabled).toBe(true);
    const why = root.querySelector('textarea')!;
    why.value = 'two are asked for';
    why.dispatchEvent(new Event('input', { bubbles: true }));
    await soon(() => expect(make.disabled).toBe(false));
    server.fails = new ApiProblem('unavailable', 'The server does not answer.');
    make.click();
    await soon(() => expect(sent.some((s) => s.method === 'PUT')).toBe(true));
    delete server.fails;
    server.rollout = { kind: 'make', version: 2, books: [{ ...BOOK, up: 0, down: 0, crossing: 0, readers: 0 }] };
    await soon(() => expect(text()).toContain('has taken it on; departs in letters'));
    const puts = sent
      .filter((s) => s.method === 'PUT')
      .map((s) => s.body as { operation: string; reason: string; version: number });
    expect(puts.map((p) => [p.reason, p.version])).toEqual([
      ['two are asked for', 2],
      ['two are asked for', 2],
    ]);
    expect(puts[0]!.operation).toBe(puts[1]!.operation);
  });

  it('looks at an earlier version as a trial', async () => {
    const server: Server = { state: STATE, rollout: { kind: 'trial', version: 2, books: [] } };
    const { root, text, sent, fixture } = await opened(server);
    withText(root, 'nav button', 'Letters').click();
    await fixture.whenStable();
    await choose(fixture, 'How far books are bound', 'begin with this and may depart from it');
    await soon(() => expect(text()).toContain('percentages alone'));
    withText(root, 'nav button', 'Versions').click();
    await fixture.whenStable();
    withText(root, 'section button', 'look at it').click();
    await soon(() => expect(text()).toContain('Books are free in this'));
    await soon(() => expect(sent.filter((s) => s.method === 'POST').length).toBeGreaterThan(0));
    expect((sent.filter((s) => s.method === 'POST').pop()!.body as { rules: SchoolRules }).rules).toEqual(OPEN_SCHOOL);
  });
});
