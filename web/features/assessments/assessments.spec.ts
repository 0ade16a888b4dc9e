import { ApiProblem } from '../../data/api';
import { openPage, type Sent } from '../../testing/open-book';
import { AssessmentsPage } from './assessments';
import { soon } from '../../testing/soon';
import type { NewAssessment } from '@contract/assessments';

describe('the assessments of a book', () => {
  let page: Awaited<ReturnType<typeof openPage<AssessmentsPage>>>;
  const open = async (answer: (sent: Sent) => unknown = () => ({ done: true })): Promise<void> => {
    page = await openPage(AssessmentsPage, answer);
    document.body.append(page.fixture.nativeElement as HTMLElement);
  };
  afterEach(() => (page.fixture.nativeElement as HTMLElement).remove());
  const box = (): HTMLInputElement => page.element('#new-assessment') as HTMLInputElement;
  const type = async (text: string): Promise<string> => {
    box().value = text;
    box().dispatchEvent(new Event('input', { bubbles: true }));
    await page.fixture.whenStable();
    return page.element('#new-assessment-is').textContent!.replace(/\s+/g, ' ').trim();
  };
  const enter = (): void =>
    void box().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));

  it('stand by phase, each with its class', async () => {
    await open();
    const sections = [...(page.fixture.nativeElement as HTMLElement).querySelectorAll('section')].map((s) => [
      s.getAttribute('aria-label'),
      [...s.querySelectorAll('.one')].map((o) => o.getAttribute('aria-label')),
    ]);
    expect(sections).toEqual([
      ['Open', ['Reed, Field work, 2 nothing yet']],
      ['Marked', ['Moss, Field work, 1 released · 1 draft']],
    ]);
  });

  it('say what a line will make while it is typed, and why it makes nothing', async () => {
    await open();
    expect(await type('Moss walk, 4 Dec')).toBe(
      'Moss walk · 10 points · Field work · due 4 Dec 16:00 · handed in here (points and category as in the assessments before)',
    );
    expect(await type('Moss walk, 4 Dec, soon')).toMatch(/^“soon” is neither points/);
    enter();
    expect(page.sent).toEqual([]);
    expect(await type('')).toMatch(/^Also: “in the room”, “files”, “extra credit”/);
  });

  it('are made as one operation, however often it is tried', async () => {
    let down = true;
    await open(() => {
      if (down) throw new ApiProblem('offline', 'The server does not answer.');
      return { done: true };
    });
    await type('Fen walk, 12.5, extra credit');
    enter();
    await soon(() => expect(page.sent).toHaveLength(1));
    expect(box().value).toBe('Fen walk, 12.5, extra credit');
    down = false;
    await soon(() => expect(page.sent).toHaveLength(2));
    const [first, second] = page.sent.map((s) => s.body as NewAssessment);
    expect(second).toEqual(first);
    expect(second).toMatchObject({
      title: 'Fen walk',
      category: 'work',
      points: 12.5,
      due: null,
      takesWork: false,
      more: { extraCredit: true },
    });
    expect(second!.id).toMatch(/^fen-walk-[a-z0-9]{6}$/);
    await soon(() => expect(box().value).toBe(''));
  });
});
