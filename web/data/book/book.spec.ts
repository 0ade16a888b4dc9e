import { TestBed } from '@angular/core/testing';
import type { EntryState } from '@contract/scores';
import { testPage, testSheet } from '../../testing/book';
import { workerOf } from '../../testing/worker';
import { SHEET_WORKER } from '../../worker/sheet-client';
import { Api } from '../api';
import { BookStore } from '../book';
import { soon } from '../../testing/soon';

describe('the open book', () => {
  it('can be loaded once more before the first opening has ended', async () => {
    const worker = workerOf(testSheet);
    TestBed.configureTestingModule({
      providers: [
        { provide: Api, useValue: { token: () => '', person: () => '', get: async () => testPage() } },
        { provide: SHEET_WORKER, useValue: () => worker },
      ],
    });
    const store = TestBed.inject(BookStore);
    const first = store.open('fens', 'reload-1');
    await store.reload();
    await first;
    expect([store.problem(), store.students(), store.standings().length]).toEqual(['', ['s1', 's2'], 2]);
  });

  it('is there, as it was asked for last, when any of its openings ends', async () => {
    const worker = workerOf(testSheet);
    const waiting: (() => void)[] = [];
    const get = () => new Promise((done) => waiting.push(() => done(testPage())));
    TestBed.configureTestingModule({
      providers: [
        { provide: Api, useValue: { token: () => '', person: () => '', get } },
        { provide: SHEET_WORKER, useValue: () => worker },
      ],
    });
    const store = TestBed.inject(BookStore);
    let ended = 0;
    const first = store.open('fens', 'reload-2').then(() => ended++);
    const second = store.reload().then(() => ended++);
    await soon(() => expect(waiting).toHaveLength(2));
    waiting[0]!();
    await new Promise((done) => setTimeout(done, 20));
    expect(ended).toBe(0);
    waiting[1]!();
    await Promise.all([first, second]);
    expect(store.standings()).toHaveLength(2);
  });

  const state = (version: number, score: number): EntryState => ({
    assessment: 'moss',
    enrolment: 's2',
    version,
    entry: { attempts: [{ score }] },
    releaseState: 0,
    seq: 9,
  });
  /** An open book whose server answers what is sent by `answer`. */
  async function opened(answer: () => Promise<unknown>) {
    const worker = workerOf(testSheet);
    TestBed.configureTestingModule({
      providers: [
        {
          provide: Api,
          useValue: { token: () => '', person: () => `book-${turn}`, get: async () => testPage(), send: answer },
        },
        { provide: SHEET_WORKER, useValue: () => worker },
      ],
    });
    const store = TestBed.inject(BookStore);
    await store.open('fens', `book-${++turn}`);
    return store;
  }
  let turn = 0;

  it('takes one’s own undo for no news, though it is told of before its answer has come', async () => {
    let answered: ((made: unknown) => void) | null = null;
    const store = await opened(() => new Promise((done) => (answered = done)));
    const step = store.step('undo');
    await soon(() => expect(answered).not.toBeNull());
    const news = store.takeOver([state(2, 7)]);
    await Promise.resolve();
    answered!({ batch: 'b', seq: 9, title: '', left: 0, cells: [state(2, 7)], remarks: [], book: false });
    await step;
    expect(await news).toEqual([]);
    expect(store.cells()!.version[store.atCell('s2', 'moss')]).toBe(2);
    // What somebody else changes after it is news.
    expect(await store.takeOver([state(3, 8)])).toHaveLength(1);
    expect(await store.takeOver([state(3, 8)])).toEqual([]);
  });

  it('draws nothing anew for what is kept just as it is shown', async () => {
    const store = await opened(async () => state(2, 7));
    await store.change({ student: 's2', item: 'moss', change: { kind: 'score', points: 7 }, typed: '7' });
    await store.shown();
    const shown = store.revision();
    const stamp = store.stampOf(1);
    await soon(() => expect(store.keeps()).toBe(1));
    await soon(() => expect(store.cells()!.version[store.atCell('s2', 'moss')]).toBe(2));
    expect([store.revision(), store.stampOf(1)]).toEqual([shown, stamp]);
    await store.settle([state(3, 9)]);
    expect(store.revision()).toBe(shown + 1);
  });

  /** The same, loaded once more, with its sheet on the way until it is let come. */
  async function reloading() {
    const store = await opened(async () => state(2, 7));
    const worker = store.worker();
    const { open } = worker;
    let come = (): void => undefined;
    const on = new Promise<void>((done) => (come = done));
    worker.open = async (id) => {
      // As the server has it now; it comes later.
      const sheet = await open(id);
      await on;
      return sheet;
    };
    const loaded = store.reload();
    return { store, loaded, come: () => come() };
  }

  it('shows what was kept, and what others changed, while its sheet was on the way', async () => {
    const { store, loaded, come } = await reloading();
    await store.takeOver([{ ...state(5, 3), enrolment: 's1', seq: 8 }]);
    await store.settle([state(2, 7), state(3, 8)]);
    come();
    await loaded;
    const at = (student: string) => {
      const i = store.atCell(student, 'moss');
      return [store.cells()!.version[i], store.cells()!.marked[i]! / 10_000];
    };
    expect([at('s2'), at('s1')]).toEqual([
      [3, 8],
      [5, 3],
    ]);
  });

  it('does not clash with oneself after a score was kept while it was loaded again', async () => {
    const { store, loaded, come } = await reloading();
    const sent = vi.spyOn(store.api, 'send');
    await store.change({ student: 's2', item: 'moss', change: { kind: 'score', points: 7 }, typed: '7' });
    await soon(() => expect(store.keeps()).toBe(1));
    come();
    await loaded;
    await store.change({ student: 's2', item: 'moss', change: { kind: 'score', points: 8 }, typed: '8' });
    await soon(() => expect(sent).toHaveBeenCalledTimes(2));
    expect(sent.mock.calls[1]![2]).toMatchObject({ version: 2 });
  });

  it('sends the version that was looked at, whatever came in since', async () => {
    const store = await opened(async () => state(9, 7));
    const sent = vi.spyOn(store.api, 'send');
    const seen = store.versionAt('s2', 'moss');
    await store.takeOver([state(seen + 1, 4)]);
    await store.change({ student: 's2', item: 'moss', change: { kind: 'score', points: 7 }, typed: '7', seen });
    await soon(() => expect(sent).toHaveBeenCalled());
    expect(sent.mock.calls[0]![2]).toMatchObject({ version: seen });
  });
});
