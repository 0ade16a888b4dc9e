import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { BookStore } from '../../data/book';
import { Slips } from '../../data/work/slips';
import { openPage, withText } from '../../testing/open-book';
import { ReleasePage } from './release';
import { soon } from '../../testing/soon';
import type { SlipState, SlipStates } from '@contract/slips';
import type { ReleaseWrite, WithdrawWrite } from '@contract/statements';

const press = async (page: Awaited<ReturnType<typeof openPage>>, selector: string, text: string): Promise<void> => {
  withText(document, selector, text).querySelector('button')?.click();
  await page.fixture.whenStable();
};

const NOW = { score: '0'.repeat(16), rubric: '0'.repeat(16), feedback: '0'.repeat(16) };
const slip = (enrolment: string, more: object = {}): SlipState => ({
  ...{
    enrolment,
    score: 'released',
    rubric: 'none',
    feedback: 'none',
    unfinished: [],
    now: NOW,
    releasedAt: null,
    told: null,
  },
  ...{ mailed: null, opened: null, played: null, fetched: null },
  ...more,
});
const SLIPS: SlipStates = {
  rubric: false,
  students: [
    slip('s1', { feedback: 'released', releasedAt: '2026-11-24T20:44:00Z', opened: '2026-11-24T20:50:00Z' }),
    slip('s2', { score: 'draft', feedback: 'draft', unfinished: ['second-look'] }),
  ],
};

describe('the release page', () => {
  let page: Awaited<ReturnType<typeof openPage<ReleasePage>>>;
  /** The server takes its time to say where slips stand. */
  let slow: boolean;
  let answer: (states: SlipStates) => void;
  beforeEach(async () => {
    slow = false;
    page = await openPage(
      ReleasePage,
      ({ path }) => (path.endsWith('/preview') ? { lines: [], reasons: [] } : { people: 1 }),
      (path) =>
        path.endsWith('/slips')
          ? slow
            ? new Promise((done) => (answer = done))
            : SLIPS
          : path.endsWith('/planned-releases')
            ? []
            : undefined,
    );
    document.body.append(page.fixture.nativeElement as HTMLElement);
  });
  afterEach(() => (page.fixture.nativeElement as HTMLElement).remove());

  it('begins with the assessment that has drafts, and picks those who have one', () => {
    expect(page.element('h1').textContent).toBe('Moss');
    const rows = [...(page.fixture.nativeElement as HTMLElement).querySelectorAll('tbody tr')].map((r) => [
      r.classList.contains('picked'),
      ...[...r.querySelectorAll('td')].slice(1).map((d) => d.textContent!.replace(/\s+/g, ' ').trim()),
    ]);
    // Adler's score is out as it is; Birch's waits, less two days of lateness.
    expect(rows).toEqual([
      [false, 'Adler', '', '16.0', 'feedback', 'all of it', 'opened 24 Nov 20:50'],
      [true, 'Birch', '', '−46.0', 'feedback second look', 'nothing yet', ''],
    ]);
    expect(page.text()).toContain('1 of 2 students picked');
  });

  it('goes to the assessment that its address names, while it stays the same page', async () => {
    const asked = vi.spyOn(TestBed.inject(Slips), 'states');
    const router = TestBed.inject(Router);
    await router.navigateByUrl('/?assessment=reed');
    await soon(() => expect(page.element('h1').textContent).toBe('Reed'));
    await soon(() => expect(asked).toHaveBeenCalledWith('fens', 'reed'));
    await soon(() => expect(page.text()).toContain('1 of 2 students picked'));
    await press(page, 'p-button', 'Release to 1');
    expect(page.fixture.componentInstance['asking']()).toBe('release');
    // One that the book does not have is asked about nowhere; the page takes one that is there, and what was asked of the other is gone.
    await router.navigateByUrl('/?assessment=of-another-book');
    await soon(() => expect(page.element('h1').textContent).toBe('Moss'));
    await soon(() => expect(page.text()).toContain('1 of 2 students picked'));
    expect(page.fixture.componentInstance['asking']()).toBeNull();
    expect(asked.mock.calls.map(([, assessment]) => assessment)).not.toContain('of-another-book');
  });

  it('asks before anybody sees anything, and then sends just those picked', async () => {
    await press(page, 'p-button', 'Release to 1');
    expect(page.sent).toEqual([]);
    await soon(() =>
      expect(document.body.textContent).toContain('1 student will see their score with its working and feedback'),
    );
    expect(document.body.textContent).toContain('1 marked for a second look: Birch');
    const buttons = [...document.querySelectorAll('p-button')].filter((b) => b.textContent!.trim() === 'Release');
    buttons[0]!.querySelector('button')!.click();
    await soon(() => expect(page.sent).toHaveLength(1));
    const { method, path, body } = page.sent[0]!;
    expect([method, path]).toEqual(['POST', '/books/fens/release']);
    expect(body as ReleaseWrite).toMatchObject({
      ...{ assessment: 'moss', enrolments: ['s2'], moveRules: true, parts: ['score', 'rubric', 'feedback'] },
      seen: [{ enrolment: 's2', ...NOW }],
    });
  });

  it('can be released while news of the book come in that leave it as it is', async () => {
    await press(page, 'p-button', 'Release to 1');
    const buttons = () => [...document.querySelectorAll('p-button')].filter((b) => b.textContent!.trim() === 'Release');
    const isDead = () => buttons()[0]?.querySelector('button')!.disabled;
    await soon(() => expect(isDead()).toBe(false));
    slow = true;
    const store = TestBed.inject(BookStore);
    await store.open('fens', store.api.person());
    TestBed.tick();
    expect(isDead()).toBe(false);
    buttons()[0]!.querySelector('button')!.click();
    await soon(() => expect(page.sent.map((s) => s.path)).toEqual(['/books/fens/release']));
  });

  it('asks as soon as it is known whom a word picks, where the key was pressed before', async () => {
    slow = true;
    page.fixture.componentInstance['list'].askAgain();
    TestBed.tick();
    const word = [...document.querySelectorAll('button')].find((b) => b.textContent!.trim() === 'all that is new')!;
    word.click();
    TestBed.tick();
    document.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', ctrlKey: true }));
    TestBed.tick();
    expect(document.querySelector('[role=dialog]')).toBeNull();
    slow = false;
    answer(SLIPS);
    await soon(() => expect(document.body.textContent).toContain('1 student will see their score'));
  });

  it('withdraws only from those who see it', async () => {
    const boxes = [...document.querySelectorAll<HTMLInputElement>('tbody input[type=checkbox]')];
    boxes[0]!.click();
    await page.fixture.whenStable();
    expect(page.text()).toContain('2 of 2 students picked');
    await press(page, 'p-button', 'Withdraw from 1');
    const withdraw = [...document.querySelectorAll('p-button')].filter((b) => b.textContent!.trim() === 'Withdraw');
    withdraw[0]!.querySelector('button')!.click();
    await soon(() => expect(page.sent).toHaveLength(1));
    expect(page.sent[0]!.body as WithdrawWrite).toMatchObject({ assessment: 'moss', enrolments: ['s1'] });
  });

  it('picks those whom a word means once it is known who they are, however early it is pressed', async () => {
    slow = true;
    page.fixture.componentInstance['list'].askAgain();
    TestBed.tick();
    const word = [...document.querySelectorAll('button.word')].find((b) => b.textContent.trim() === 'new and finished');
    (word as HTMLElement).click();
    TestBed.tick();
    expect(page.text()).toContain('1 of 2 students picked');
    // Until then nobody is released who was picked before.
    expect(withText(document, 'p-button', 'Release to').querySelector('button')!.disabled).toBe(true);
    // The first has feedback that is new by now; the second, picked so far, looks unfinished.
    answer({ ...SLIPS, students: [slip('s1', { feedback: 'changed' }), SLIPS.students[1]!] });
    await soon(() => {
      const boxes = [...document.querySelectorAll<HTMLInputElement>('tbody input[type=checkbox]')];
      expect(boxes.map((b) => b.checked)).toEqual([true, false]);
    });
  });
});
