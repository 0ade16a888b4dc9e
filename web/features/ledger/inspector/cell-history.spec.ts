import { TestBed } from '@angular/core/testing';
import { outputToObservable } from '@angular/core/rxjs-interop';
import type { EntryContent } from '@core/book/change';
import type { JournalPage, JournalSet } from '@contract/history';
import { BookStore } from '../../../data/book';
import { openPage, withText } from '../../../testing/open-book';
import { CellHistory } from './cell-history';
import { soon } from '../../../testing/soon';

const score = (points: number): string => JSON.stringify({ attempts: [{ score: points }] });
const changed = (seq: number, was: number, becomes: number, more: Partial<JournalSet> = {}): JournalSet => ({
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
  shown: [{ seq, kind: 'cell', assessment: 'moss', enrolment: 's1', was: score(was), becomes: score(becomes) }],
  undone: false,
  undoable: true,
  ...more,
});

describe('the history of a cell', () => {
  let asked: URLSearchParams[];
  let pages: Record<string, Partial<JournalPage>>;
  const open = (): ReturnType<typeof openPage<CellHistory>> =>
    openPage(
      CellHistory,
      () => ({}),
      (path) => {
        const [page, query] = path.split('?');
        if (page !== '/books/fens/journal') return undefined;
        const q = new URLSearchParams(query);
        asked.push(q);
        return { sets: [], before: null, total: 9, people: [], notes: {}, ...pages[q.get('before') ?? 'first'] };
      },
      { place: { student: 's1', item: 'moss', index: 0 } },
    );
  beforeEach(() => {
    asked = [];
    pages = {
      first: { sets: [changed(9, 3, 4, { set: 'paste', reason: 'a slip of the pen' }), changed(8, 2, 3)], before: 8 },
      '8': { sets: [changed(5, 1, 2)], before: null },
    };
  });

  it('says what it was each time, who did it and why, and can be made so again', async () => {
    const page = await open();
    await soon(() => expect(page.text()).toContain('was 3'));
    const again: EntryContent[] = [];
    outputToObservable(page.fixture.componentInstance.again).subscribe((c) => again.push(c));
    expect(page.text()).toMatch(/4\s?was 3.*S\. Teacher · pasted · a slip of the pen/);
    expect(Object.fromEntries(asked[0]!)).toEqual({ enrolment: 's1', assessment: 'moss' });
    const words = [...(page.fixture.nativeElement as HTMLElement).querySelectorAll('li button')];
    // What it is now is not offered.
    expect(words).toHaveLength(1);
    (words[0] as HTMLElement).click();
    expect(again).toEqual([{ attempts: [{ score: 3 }] }]);
  });

  it('shows what was before, as often as there is more', async () => {
    const page = await open();
    await soon(() => expect(page.text()).toContain('was 3'));
    withText(page.fixture.nativeElement as HTMLElement, 'button', 'show what was before').click();
    await soon(() => expect(page.text()).toMatch(/2\s?was 1/));
    expect(asked.at(-1)!.get('before')).toBe('8');
    expect(page.text()).not.toContain('show what was before');
  });

  it('looks again each time that something was kept, within the same second too', async () => {
    const page = await open();
    const before = asked.length;
    const store = TestBed.inject(BookStore);
    await store.step('undo').catch(() => undefined);
    await page.fixture.whenStable();
    expect(asked.length).toBe(before + 1);
    await store.step('undo').catch(() => undefined);
    await page.fixture.whenStable();
    expect(asked.length).toBe(before + 2);
  });
});
