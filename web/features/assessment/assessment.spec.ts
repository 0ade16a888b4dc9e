import { OPEN_SCHOOL } from '@core/policy/document';
import type { AssessmentWhole } from '@contract/assessments';
import { ApiProblem } from '../../data/api';
import { openPage, withText, type Sent } from '../../testing/open-book';
import { soon } from '../../testing/soon';
import { AssessmentPage } from './assessment';

const MOSS: AssessmentWhole = {
  id: 'moss',
  title: 'Moss',
  category: 'work',
  points: 20,
  due: '2026-10-10T16:00:00Z',
  closes: null,
  takesWork: false,
  work: {},
  shown: true,
  more: {},
  version: 3,
  archived: false,
  scored: 2,
  released: 0,
};

describe('one assessment', () => {
  let page: Awaited<ReturnType<typeof openPage<AssessmentPage>>>;
  const open = async (
    answer: (sent: Sent) => unknown = () => ({ assessment: MOSS, cells: 0, told: 0 }),
    stands: object = {},
  ): Promise<void> => {
    const asked = (path: string): unknown =>
      path.endsWith('/assessments')
        ? [MOSS]
        : path === '/school-rules'
          ? { version: 1, rules: { ...OPEN_SCHOOL, stands: { ...OPEN_SCHOOL.stands, ...stands } }, made: null }
          : undefined;
    page = await openPage(AssessmentPage, answer, asked, { assessment: 'moss' });
    document.body.append(page.fixture.nativeElement as HTMLElement);
    await soon(() => expect(page.element('fieldset')).not.toBeNull());
  };
  afterEach(() => {
    (page.fixture.nativeElement as HTMLElement).remove();
    // What one test leaves begun is not there in the next.
    sessionStorage.clear();
  });
  const type = async (label: string, text: string): Promise<void> => {
    const box = page.element(`[aria-label="${label}"]`) as HTMLInputElement;
    box.value = text;
    box.dispatchEvent(new Event('input', { bubbles: true }));
    await page.fixture.whenStable();
  };
  const keep = (): HTMLButtonElement => withText(document, 'button', 'Keep the changes') as HTMLButtonElement;

  it('asks what becomes of scores when points change, and sends what was chosen', async () => {
    await open();
    await type('Points', '25');
    await soon(() => expect(page.text()).toContain('2 students have a score out of 20'));
    expect(keep().disabled).toBe(true);
    const [, percent] = document.querySelectorAll<HTMLInputElement>('input[type=radio]');
    percent!.click();
    await soon(() => expect(keep().disabled).toBe(false));
    keep().click();
    await soon(() => expect(page.sent).toHaveLength(1));
    expect(page.sent[0]).toMatchObject({
      method: 'PATCH',
      path: '/books/fens/assessments/moss',
      body: { version: 3, points: 25, scores: 'keep-percentages', tell: null },
    });
  });

  it('says what cannot be read, and what is dropped is as it was', async () => {
    await open();
    await type('Points', 'many');
    await soon(() => expect(page.text()).toContain('Points are a number, as in 20 or 12.5.'));
    expect(keep().disabled).toBe(true);
    withText(document, 'button', 'Drop them').click();
    await soon(() => expect((page.element('[aria-label="Points"]') as HTMLInputElement).value).toBe('20'));
    expect(page.sent).toEqual([]);
  });

  it('keeps what was typed where the server refuses it', async () => {
    await open(() => {
      throw new ApiProblem('bad-request', 'These rules cannot be used.');
    });
    await type('Title', 'Mosses');
    await soon(() => expect(keep().disabled).toBe(false));
    keep().click();
    await soon(() => expect(page.text()).toContain('These rules cannot be used.'));
    expect((page.element('[aria-label="Title"]') as HTMLInputElement).value).toBe('Mosses');
  });

  it('keeps nothing while one of its boxes says no day, whatever stands in the others', async () => {
    await open();
    await type('Due', 'some day');
    await type('No more after', '20 Dec 2026');
    await soon(() => expect(page.text()).toContain('is no day, such as'));
    expect(keep().disabled).toBe(true);
    await type('Due', '18 Dec 2026');
    await soon(() => expect(keep().disabled).toBe(false));
  });

  it('offers no rule that would depart from what the school has fixed, and says so', async () => {
    const shut = async (label: string): Promise<string[]> => {
      page.element(`[role=combobox][aria-label="${label}"]`).click();
      await page.fixture.whenStable();
      const options = [...document.querySelectorAll('[role=option][data-p-disabled=true]')];
      page.element(`[role=combobox][aria-label="${label}"]`).click();
      await soon(() => expect(document.querySelector('[role=option]')).toBeNull());
      return options.map((o) => o.textContent!.trim());
    };
    await open(undefined, { late: 'fixed' });
    await soon(() => expect(page.text()).toContain('The school has fixed lateness: only its own rules can be chosen.'));
    expect(await shut('Rule for late work')).toEqual(['the rule “steady”']);
    expect(await shut('Rule for blanks')).toEqual([]);
  });
});
