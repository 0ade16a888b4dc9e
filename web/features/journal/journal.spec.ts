import type { JournalPage as Page, JournalSet } from '@contract/history';
import { openPage, withText } from '../../testing/open-book';
import { JournalPage } from './journal';
import { soon } from '../../testing/soon';

const set = (seq: number, more: Partial<JournalSet> = {}): JournalSet => ({
  batch: `b-${seq}`,
  first: seq,
  last: seq,
  at: '2026-11-24T09:30:00Z',
  by: 'S. Teacher',
  kind: 'cell',
  set: null,
  title: '',
  reason: '',
  lines: 1,
  students: 1,
  shown: [{ seq, kind: 'cell', assessment: 'moss', enrolment: 's1', was: '{}', becomes: '{"attempts":[{"score":4}]}' }],
  undone: false,
  undoable: true,
  ...more,
});

describe('the journal', () => {
  let asked: string[];
  let answers: (path: string) => Partial<Page> | { lines: unknown[]; notes: object };
  let page: Awaited<ReturnType<typeof openPage<JournalPage>>>;
  const open = async (): Promise<void> => {
    page = await openPage(
      JournalPage,
      () => ({}),
      (path) => {
        if (!path.includes('/journal')) return undefined;
        asked.push(path);
        return { sets: [], before: null, total: 40, people: [], notes: {}, ...answers(path) };
      },
    );
    await page.fixture.whenStable();
    await soon(() => expect(asked.length).toBeGreaterThan(0));
    await page.fixture.whenStable();
    document.body.append(page.fixture.nativeElement as HTMLElement);
  };
  const lines = (): HTMLElement[] => [...document.querySelectorAll<HTMLElement>('lt-journal .line, .line')];
  beforeEach(() => {
    asked = [];
    answers = () => ({
      sets: [set(40), set(39, { set: 'paste', lines: 6 }), set(30, { undone: true, undoable: false })],
    });
  });
  afterEach(() => (page.fixture.nativeElement as HTMLElement).remove());

  it('says of one change what was and what is, of a set how many lines it has, and what was put back', async () => {
    await open();
    await soon(() => expect(lines()).toHaveLength(3));
    const [one, many, gone] = lines().map((l) => l.textContent!.replace(/\s+/g, ' '));
    expect(one).toMatch(/09:30:00.*S\. Teacher.*Adler, Moss.*→ 4/);
    expect(many).toContain('6 lines');
    expect(gone).toContain('put back');
    expect(lines()[2]!.textContent).not.toContain('put back …');
  });

  it('asks for all lines of a set when it is opened, and goes on to those earlier', async () => {
    answers = (path) => {
      if (path.endsWith('/b-39'))
        return { lines: [1, 2, 3].map((i) => ({ ...set(39).shown[0], seq: 33 + i })), notes: {} };
      return path.includes('before=')
        ? { sets: [set(20)], before: null }
        : { sets: [set(39, { set: 'paste', lines: 3 })], before: 39 };
    };
    await open();
    await soon(() => expect(lines()).toHaveLength(1));
    lines()[0]!.querySelector<HTMLElement>('.what')!.click();
    await soon(() => expect(document.querySelectorAll('.inside tr')).toHaveLength(3));
    withText(document, 'button', 'earlier changes').click();
    await soon(() => expect(lines()).toHaveLength(2));
    expect(asked.at(-1)).toBe('/books/fens/journal?before=39');
    expect(document.body.textContent).not.toContain('earlier changes');
  });

  it('says so where there is nothing', async () => {
    answers = () => ({ total: 0 });
    await open();
    await soon(() => expect(page.text()).toContain('Nothing has been changed in this book yet.'));
  });

  it('goes from change to change by arrows', async () => {
    await open();
    await soon(() => expect(lines()).toHaveLength(3));
    const press = (key: string): void =>
      void (document.activeElement ?? document.body).dispatchEvent(
        new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }),
      );
    (document.activeElement as HTMLElement | null)?.blur();
    press('ArrowDown');
    expect(document.activeElement).toBe(lines()[0]!.querySelector('.what'));
    press('ArrowDown');
    press('ArrowDown');
    press('ArrowDown');
    expect(document.activeElement).toBe(lines()[2]!.querySelector('.what'));
    press('ArrowUp');
    expect(document.activeElement).toBe(lines()[1]!.querySelector('.what'));
  });
});
