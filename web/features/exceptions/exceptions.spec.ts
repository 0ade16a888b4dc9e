import { ApiProblem } from '../../data/api';
import { openPage, withText, type Sent } from '../../testing/open-book';
import { soon } from '../../testing/soon';
import { ExceptionsPage } from './exceptions';
import type { ExceptionList } from '@contract/scores';

const line = { since: '2026-11-20T09:00:00Z', by: 'R. Aldous', reason: '', until: null };
const LIST: ExceptionList = {
  wantsReasons: false,
  overrides: [{ enrolment: 's2', version: 3 }],
  lines: [
    { ...line, enrolment: 's2', assessment: null, kind: 'override', number: 71.5, reason: 'examiners’ meeting' },
    { ...line, enrolment: 's1', assessment: 'moss', kind: 'protected' },
  ],
};

describe('the page of exceptions', () => {
  let page: Awaited<ReturnType<typeof openPage<ExceptionsPage>>>;
  let list = LIST;
  const open = async (
    answer: (sent: Sent) => unknown = () => ({ cells: [] }),
    inputs: Record<string, unknown> = {},
  ): Promise<void> => {
    list = LIST;
    page = await openPage(
      ExceptionsPage,
      answer,
      (path) => (path.endsWith('/exceptions') ? list : path.endsWith('/assessments') ? [] : undefined),
      inputs,
    );
    document.body.append(page.fixture.nativeElement as HTMLElement);
    await soon(() => expect(rows().length).toBeGreaterThan(0));
  };
  afterEach(() => (page.fixture.nativeElement as HTMLElement).remove());
  const rows = (): HTMLElement[] => [...document.querySelectorAll<HTMLElement>('tr[data-key]')];
  const cells = (row: HTMLElement): string[] =>
    [...row.querySelectorAll('td')].map((td) => td.textContent!.replace(/\s+/g, ' ').trim());

  it('says who, what, why, since when, and what each changes in the standing now', async () => {
    await open();
    await soon(() => expect(page.text()).not.toContain('…'));
    expect(rows().map(cells)).toEqual([
      ['Adler', 'always kept', 'Moss', 'no reason given', '20 Nov, R. Aldous', 'nothing now', 'end'],
      [
        'Birch',
        'final grade set to 71.5 %',
        'the whole book',
        'examiners’ meeting',
        '20 Nov, R. Aldous',
        'nothing now',
        'end',
      ],
    ]);
  });

  it('finds by words of the reason and by kind, and says how many are hidden', async () => {
    await open();
    const find = page.element('input[type=search]') as HTMLInputElement;
    find.value = 'meeting';
    find.dispatchEvent(new Event('input', { bubbles: true }));
    await page.fixture.whenStable();
    expect(rows()).toHaveLength(1);
    expect(page.text()).toContain('1 exception, 1 hidden by this');
  });

  it('ends one with Delete: a cell without it, an override with the version that was seen', async () => {
    await open();
    const press = (row: HTMLElement): void =>
      void row.dispatchEvent(new KeyboardEvent('keydown', { key: 'Delete', bubbles: true, cancelable: true }));
    press(rows()[0]!);
    await soon(() => expect(page.sent).toHaveLength(1));
    expect(page.sent[0]).toMatchObject({
      method: 'POST',
      path: '/books/fens/changes',
      body: { kind: 'exception', title: 'ended', cells: [{ assessment: 'moss', enrolment: 's1', version: 4 }] },
    });
    await soon(() => expect(page.text()).not.toContain('…'));
    press(rows()[1]!);
    await soon(() => expect(page.sent).toHaveLength(2));
    expect(page.sent[1]).toMatchObject({
      method: 'PUT',
      path: '/books/fens/overrides/s2',
      body: { version: 3, percent: null, letter: null },
    });
  });

  it('tries what the sentence says before it is kept, and keeps it once however often it is tried', async () => {
    let down = true;
    await open(
      () => {
        if (down) throw new ApiProblem('offline', 'The server does not answer.');
        return { cells: [] };
      },
      { student: 's1', assessment: 'moss' },
    );
    await soon(() => expect(page.text()).toContain('1 cell, 1 standing changes'));
    const keep = withText(document, 'button', 'Keep it');
    keep.click();
    await soon(() => expect(page.sent).toHaveLength(1));
    // A second click while no answer comes is the same.
    keep.click();
    down = false;
    await soon(() => expect(page.sent).toHaveLength(2));
    expect(page.sent[1]!.body).toEqual(page.sent[0]!.body);
    expect(page.sent[1]!.body).toMatchObject({
      kind: 'exception',
      title: 'excused',
      cells: [{ assessment: 'moss', enrolment: 's1', version: 4, change: { kind: 'state', state: 'excused' } }],
    });
  });
});
