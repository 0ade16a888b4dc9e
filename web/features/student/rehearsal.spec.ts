import { describe, expect, it } from 'vitest';
import type { Rehearsal, RehearsalWrite } from '@contract/statements';
import { openPage, withText } from '../../testing/open-book';
import { soon } from '../../testing/soon';
import { RehearsalPage } from './rehearsal';

const NOTHING: RehearsalWrite = { asOf: null, section: null, extraTimeHours: 0, cells: [] };
const answerTo = (write: RehearsalWrite): Rehearsal => ({
  write,
  page: { book: 'fens', title: 'Fens', timeZone: 'UTC', asOf: '2026-11-24T09:00:00Z', standing: null, work: [] },
  ledger: {
    id: 'rehearsal',
    percent: '85.0',
    exact: '85',
    letter: 'B',
    low: '85.0',
    high: '85.0',
    items: [],
    groups: [],
  },
});
const open = () =>
  openPage(
    RehearsalPage,
    ({ body }) => answerTo(body as RehearsalWrite),
    (path) => (path.endsWith('/rehearsal') ? answerTo(NOTHING) : undefined),
  );
const type = (box: HTMLInputElement, value: string): void => {
  box.value = value;
  box.dispatchEvent(new Event('change'));
};

describe('the rehearsal', () => {
  it('sends what is typed, and says where they would stand', async () => {
    const page = await open();
    await soon(() => expect(page.text()).toContain('85.0'));
    type(page.element('input.score') as HTMLInputElement, '85%');
    await page.fixture.whenStable();
    const first = page.sent.at(-1)!.body as RehearsalWrite;
    expect(page.sent.at(-1)!.path).toBe('/books/fens/rehearsal');
    expect(first.cells).toHaveLength(1);
    (page.element('input[type=checkbox]') as HTMLInputElement).click();
    await page.fixture.whenStable();
    expect((page.sent.at(-1)!.body as RehearsalWrite).cells[0]).toEqual({ ...first.cells[0], released: true });
    withText(page.fixture.nativeElement as HTMLElement, 'button', 'begin anew').click();
    await page.fixture.whenStable();
    expect(page.sent.at(-1)!.body).toEqual(NOTHING);
  });

  it('keeps what cannot be read in its box, with the sentence, and sends nothing', async () => {
    const page = await open();
    await soon(() => expect(page.text()).toContain('85.0'));
    const box = page.element('input.score') as HTMLInputElement;
    type(box, 'seventeen');
    await page.fixture.whenStable();
    expect(page.text()).toContain('“seventeen” is not a score');
    expect(box.value).toBe('seventeen');
    expect(page.sent).toEqual([]);
  });
});
