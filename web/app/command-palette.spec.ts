import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { ApiProblem } from '../data/api';
import { CommandPalette } from '../ui/layout/command-palette';
import { openPage } from '../testing/open-book';
import { CommandPaletteView } from './command-palette';

describe('the line that goes anywhere', () => {
  let page: Awaited<ReturnType<typeof openPage<CommandPaletteView>>>;
  let went: string[];
  const open = async (desk: () => unknown = () => ({ books: [{ id: 'soil', title: 'Soil Science 1' }] })) => {
    page = await openPage(
      CommandPaletteView,
      () => ({}),
      (path) => (path === '/desk' ? desk() : undefined),
    );
    document.body.append(page.fixture.nativeElement as HTMLElement);
    went = [];
    vi.spyOn(TestBed.inject(Router), 'navigate').mockImplementation(async (path, more) => {
      went.push(`${(path as string[]).join('/')} ${JSON.stringify(more?.queryParams ?? {})}`);
      return true;
    });
    document.dispatchEvent(new KeyboardEvent('keydown', { key: 'k', ctrlKey: true, bubbles: true, cancelable: true }));
    await page.fixture.whenStable();
  };
  afterEach(() => (page.fixture.nativeElement as HTMLElement).remove());
  const line = (): HTMLInputElement => document.querySelector('[role=combobox]')!;
  const type = async (text: string): Promise<string[]> => {
    line().value = text;
    line().dispatchEvent(new Event('input', { bubbles: true }));
    await page.fixture.whenStable();
    return [...document.querySelectorAll('[role=option]')].map((o) => o.textContent!.replace(/\s+/g, ' ').trim());
  };
  const press = async (key: string): Promise<void> => {
    line().dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    await page.fixture.whenStable();
  };

  it('has the keys at once, and finds students, assessments, pages and books', async () => {
    await open();
    expect(document.activeElement).toBe(line());
    expect((await type('birch'))[0]).toMatch(/^student ?Birch/);
    await press('Enter');
    expect(went).toEqual(['/book/fens/ledger {"student":"s2"}']);
    expect(line()).toBeNull();
  });

  it('finds what is said with its kind: where a student’s work is', async () => {
    await open();
    expect((await type('where is birch'))[0]).toMatch(/^where is ?Birch/);
    await press('Enter');
    expect(went).toEqual(['/where {"of":"fens","enrolment":"s2"}']);
  });

  it('goes to an assessment, to a page, and to a book that is not open', async () => {
    await open();
    for (const [text, goal] of [
      ['moss', '/book/fens/ledger {"assessment":"moss"}'],
      ['journal', '/book/fens/journal {}'],
      ['soil sci', '/book/soil {}'],
    ] as const) {
      TestBed.inject(CommandPalette).open.set(false);
      await page.fixture.whenStable();
      document.dispatchEvent(new KeyboardEvent('keydown', { key: 'k', ctrlKey: true, bubbles: true }));
      await page.fixture.whenStable();
      await type(text);
      await press('Enter');
      expect(went.at(-1)).toBe(goal);
    }
  });

  it('takes an Enter that comes before the books do, unless something else was typed since', async () => {
    for (const [then, goals] of [
      ['soil sci', ['/book/soil {}']],
      ['meres', []],
    ] as const) {
      let answer = (_: unknown): void => undefined;
      await open(() => new Promise((done) => (answer = done)));
      await type('soil sci');
      await press('Enter');
      expect(went).toEqual([]);
      await type(then);
      answer({ books: [{ id: 'soil', title: 'Soil Science 1' }] });
      await new Promise((done) => setTimeout(done, 30));
      expect(went).toEqual(goals);
      (page.fixture.nativeElement as HTMLElement).remove();
      page.fixture.destroy();
      TestBed.resetTestingModule();
    }
  });

  it('does what the open page adds, and steps round its list', async () => {
    await open();
    const done: string[] = [];
    TestBed.inject(CommandPalette).actions.set([
      { id: 'a', label: 'show the pond as it is', key: '/pond', run: () => done.push('pond') },
      { id: 'b', label: 'show the pond as it was', key: '/was', run: () => done.push('was') },
    ]);
    expect(await type('pond')).toHaveLength(2);
    await press('ArrowUp');
    expect(document.querySelector('[aria-selected=true]')!.textContent).toContain('as it was');
    await press('ArrowDown');
    await press('ArrowDown');
    await press('Enter');
    expect(done).toEqual(['was']);
  });

  it('says that nothing is called so, and gives the keys back on Escape', async () => {
    await open();
    const before = document.createElement('button');
    document.body.append(before);
    await press('Escape');
    before.focus();
    document.dispatchEvent(new KeyboardEvent('keydown', { key: 'k', ctrlKey: true, bubbles: true }));
    await page.fixture.whenStable();
    expect(await type('zzz')).toEqual([]);
    await press('Enter');
    expect(went).toEqual([]);
    await press('Escape');
    expect(document.activeElement).toBe(before);
    before.remove();
  });

  it('jumps within the book where the server does not answer', async () => {
    await open(() => {
      throw new ApiProblem('offline', 'no line');
    });
    expect((await type('adler'))[0]).toMatch(/Adler/);
  });
});
