import type { OpenedSheet, SheetWorker } from './protocol';
import { forgetEarly, openEarly, openSheet } from './sheet-client';
import { SheetClosed } from './sheet-session';

const asked: string[] = [];
/** Stands in for the browser's Worker, which jsdom has not: it is spoken to, and answers nothing. */
class SilentWorker {
  static made = 0;
  constructor() {
    SilentWorker.made++;
  }
  postMessage(): void {}
  addEventListener(): void {}
  removeEventListener(): void {}
  start(): void {}
}
const worker = {
  open: (book: string) => {
    asked.push(book);
    return Promise.resolve({ seq: 1 } as OpenedSheet);
  },
} as SheetWorker;

describe('a book that is opened early', () => {
  beforeEach(() => {
    asked.length = 0;
    // Other files of tests share this browser.
    sessionStorage.clear();
    vi.stubGlobal('Worker', SilentWorker);
  });
  afterEach(() => {
    vi.unstubAllGlobals();
    sessionStorage.clear();
  });

  it('is not asked for before this tab has opened one, nor for any other address', () => {
    openEarly('/book/fens/ledger');
    sessionStorage.setItem('last-tally-opens-books', '');
    for (const path of ['/', '/desk', '/my/fens', '/book/', '/book/%E0%A4%A/ledger']) openEarly(path);
    expect(SilentWorker.made).toBe(0);
  });

  it('is opened once more where that failed, and not where another was opened meanwhile', async () => {
    sessionStorage.setItem('last-tally-opens-books', '');
    const failing = (error: Error) => () => ({ open: () => Promise.reject(error) }) as unknown as SheetWorker;
    openEarly('/book/fens/marking/moss', failing(new Error('The server does not answer.')));
    expect(await openSheet(worker, 'fens')).toEqual({ seq: 1 });
    openEarly('/book/fens/marking/moss', failing(new SheetClosed()));
    await expect(openSheet(worker, 'fens')).rejects.toBeInstanceOf(SheetClosed);
    expect(asked).toEqual(['fens']);
  });

  it('is asked for anew where it is another, and no more once the person has signed out', async () => {
    expect(await openSheet(worker, 'fens')).toEqual({ seq: 1 });
    expect(asked).toEqual(['fens']);
    openEarly('/book/fens/ledger');
    expect(SilentWorker.made).toBe(1);
    await openSheet(worker, 'hills');
    expect(asked).toEqual(['fens', 'hills']);
    forgetEarly();
    openEarly('/book/fens/ledger');
    await openSheet(worker, 'fens');
    expect(asked).toEqual(['fens', 'hills', 'fens']);
  });
});
