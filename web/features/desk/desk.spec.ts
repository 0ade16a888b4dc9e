import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { provideStore } from '@ngrx/store';
import type { Desk, DeskLine } from '@contract/overview';
import { Api, ApiProblem } from '../../data/api';
import { sessionFeature } from '../../data/session';
import { DeskPage } from './desk';

const ticks = { released: 2, draft: 3, excused: 0, toMark: 4, missing: 0, nothing: 1 };
const line = (title: string, count: number, more: Partial<DeskLine> = {}): DeskLine => ({
  book: 'fens',
  bookTitle: 'Fens',
  assessment: title.toLowerCase(),
  title,
  due: '2026-11-12T17:00:00Z',
  count,
  ticks,
  since: '2026-11-16T09:00:00Z',
  whose: 'Adler',
  ...more,
});
const flag = (i: number): Desk['secondLooks'][number] => ({
  book: 'fens',
  bookTitle: 'Fens',
  enrolment: `s${i}`,
  assessment: 'moss',
  message: `Student ${i} · Moss`,
  note: '',
});
const nothing: Desk = {
  asOf: '2026-11-24T09:00:00Z',
  timeZone: 'Europe/Dublin',
  term: 'Autumn',
  toMark: [],
  toRelease: [],
  secondLooks: [],
  secondLooksInAll: 0,
  questions: [],
  broken: [],
  news: [],
  weeks: [],
  books: [],
  soon: [],
};

describe('the desk', () => {
  let fixture: ComponentFixture<DeskPage>;
  let answer: () => Desk;
  const open = async (): Promise<void> => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideRouter([]),
        provideStore({ [sessionFeature.name]: sessionFeature.reducer }),
        { provide: Api, useValue: { token: () => '', person: { set: () => undefined }, get: async () => answer() } },
      ],
    });
    fixture = TestBed.createComponent(DeskPage);
    document.body.append(fixture.nativeElement as HTMLElement);
    await fixture.whenStable();
  };
  afterEach(() => (fixture.nativeElement as HTMLElement).remove());
  const text = (): string => (fixture.nativeElement as HTMLElement).textContent!.replace(/\s+/g, ' ');

  it('counts what waits over all books, says since when and whose, and leads there', async () => {
    answer = () => ({
      ...nothing,
      toMark: [line('Moss', 4), line('Reed', 1, { book: 'soil', since: '2026-11-24T08:00:00Z' })],
      toRelease: [line('Moss', 3, { whose: null, since: '2026-11-20T08:00:00Z' })],
    });
    await open();
    expect(text()).toContain('8 things wait for you in 2 books.');
    expect(text()).toContain('8 days, Adler');
    expect(text()).toContain('today, Adler');
    expect(text()).toContain('4 days ago');
    const links = [...document.querySelectorAll('a.line')].map((a) => a.getAttribute('href'));
    expect(links).toEqual([
      expect.stringMatching(/^\/book\/fens\/marking\/moss/),
      expect.stringMatching(/^\/book\/soil\/marking\/reed/),
      expect.stringMatching(/^\/book\/fens\/release/),
    ]);
  });

  it('says where others changed cells, and where the calculation changed, each with where to look', async () => {
    const news = { bookTitle: 'Fens', since: '2026-11-23T09:00:00Z' };
    answer = () => ({
      ...nothing,
      news: [
        { ...news, book: 'fens', count: 2, recalculated: 0 },
        { ...news, book: 'soil', count: 0, recalculated: 1 },
      ],
    });
    await open();
    expect(text()).toMatch(/2 ?cells changed by others/);
    expect(text()).toMatch(/1 ?student has another figure: the calculation changed/);
    const links = [...document.querySelectorAll('a.line')].map((a) => a.getAttribute('href'));
    expect(links).toEqual(['/book/fens/ledger?only=news', '/book/soil/journal']);
  });

  it('shows a dozen of what is flagged, and how many there are beyond', async () => {
    answer = () => ({
      ...nothing,
      secondLooks: Array.from({ length: 20 }, (_, i) => flag(i)),
      secondLooksInAll: 25,
    });
    await open();
    expect(document.querySelectorAll('a.flag')).toHaveLength(12);
    const more = document.querySelector<HTMLElement>('button.more')!;
    expect(more.textContent).toContain('show 13 more');
    more.click();
    await fixture.whenStable();
    expect(document.querySelectorAll('a.flag')).toHaveLength(20);
    expect(text()).toContain('and 5 more, in the ledgers of their books');
  });

  it('says that nothing waits, and what went wrong', async () => {
    answer = () => nothing;
    await open();
    expect(text()).toContain('Nothing waits for you.');
    (fixture.nativeElement as HTMLElement).remove();
    TestBed.resetTestingModule();
    answer = () => {
      throw new ApiProblem('unavailable', 'The database does not answer just now.');
    };
    await open();
    expect(text()).toContain('The database does not answer just now.');
  });

  it('goes from line to line by arrows', async () => {
    answer = () => ({ ...nothing, toMark: [line('Moss', 4), line('Reed', 1)] });
    await open();
    const links = [...document.querySelectorAll<HTMLElement>('a.line')];
    const press = (key: string): void =>
      void links[0]!.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    links[0]!.focus();
    press('ArrowDown');
    expect(document.activeElement).toBe(links[1]);
    press('ArrowDown');
    expect(document.activeElement).toBe(links[1]);
    press('ArrowUp');
    expect(document.activeElement).toBe(links[0]);
  });
});
