import { Location } from '@angular/common';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { EntryContent } from '@core/book/change';
import { Api } from '../../data/api';
import { BookStore } from '../../data/book';
import { testPage, testSheet } from '../../testing/book';
import { workerOf } from '../../testing/worker';
import { SHEET_WORKER } from '../../worker/sheet-client';
import { LedgerPage } from './ledger';
import { headHeight } from './grid/geometry';
import { LedgerView } from './view/ledger-view';
import { soon } from '../../testing/soon';

const sent: { path: string; body: { change: unknown } }[] = [];
/** What the server says that the cell holds after a change. */
let kept: EntryContent;
const api = {
  token: () => '',
  person: () => `ledger-${turn}`,
  get: async () => testPage(),
  send: async (_m: string, path: string, body: { change: unknown; version: number }) => {
    sent.push({ path, body });
    const [item, student] = path.split('/').slice(-2);
    return {
      assessment: item,
      enrolment: student,
      version: body.version + 1,
      entry: kept,
      out: 0,
      seq: 4,
    };
  },
};

let page: ComponentFixture<LedgerPage>;
let turn = 0;
beforeEach(async () => {
  globalThis.ResizeObserver = class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  };
  sent.length = 0;
  kept = { attempts: [{ score: 12 }] };
  TestBed.configureTestingModule({
    imports: [LedgerPage],
    providers: [
      provideZonelessChangeDetection(),
      provideRouter([]),
      { provide: Api, useValue: api },
      {
        provide: SHEET_WORKER,
        useValue: (
          (w) => () =>
            w
        )(workerOf(testSheet)),
      },
    ],
  });
  await TestBed.compileComponents();
  await TestBed.inject(BookStore).open('fens', `ledger-${++turn}`);
  page = TestBed.createComponent(LedgerPage);
  document.body.append(page.nativeElement as HTMLElement);
  Object.defineProperty(element('.grid'), 'clientWidth', { value: 900 });
  Object.defineProperty(element('.grid'), 'clientHeight', { value: 500 });
  await page.whenStable();
});
afterEach(() => (page.nativeElement as HTMLElement).remove());

const element = (selector: string): HTMLElement =>
  (page.nativeElement as HTMLElement).querySelector<HTMLElement>(selector)!;
const press = async (key: string, target = element('.grid')): Promise<void> => {
  target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
  await page.whenStable();
};

describe('the ledger', () => {
  it('begins at the first cell of another book, and stays where one is while its own is read again', async () => {
    const [view, store] = [page.componentInstance['view'], TestBed.inject(BookStore)];
    view.move(1, 0);
    view.move(1, 1, true);
    await store.reload();
    expect([view.cursor(), view.anchor()]).toEqual([
      { row: 1, col: 1 },
      { row: 1, col: 0 },
    ]);
    await store.open('meres', `ledger-${turn}`);
    expect([view.cursor(), view.anchor()]).toEqual([{ row: 0, col: 0 }, null]);
  });

  it('has the look of its address in another book, not that of the book before', async () => {
    const [view, store, location] = [
      page.componentInstance['view'],
      TestBed.inject(BookStore),
      TestBed.inject(Location),
    ];
    view.change({ find: 'birch' });
    await soon(() => expect(location.path()).toContain('birch'));
    await store.reload();
    expect(view.settings().find).toBe('birch');
    location.go('/book/meres/ledger', 'rows=roomy');
    await store.open('meres', `ledger-${turn}`);
    await page.whenStable();
    expect(view.settings()).toMatchObject({ find: '', roomy: true });
  });

  it('is a grid whose active cell is always there', async () => {
    const grid = element('[role=grid]');
    expect(grid.getAttribute('aria-rowcount')).toBe('4');
    await press('ArrowDown');
    await press('ArrowRight');
    const active = grid.getAttribute('aria-activedescendant')!;
    expect(active).toBe('cell-1-1');
    expect(document.getElementById(active)?.getAttribute('aria-selected')).toBe('true');
    await press('End');
    expect(document.getElementById(grid.getAttribute('aria-activedescendant')!)?.textContent).toContain('30.0');
  });

  it('opens at the first digit, takes it, and keeps the entry with Enter', async () => {
    await press('1');
    const line = element('lt-cell-editor input') as HTMLInputElement;
    expect(line.value).toBe('1');
    line.value = '12';
    line.dispatchEvent(new InputEvent('input', { inputType: 'insertText', bubbles: true }));
    await press('Enter', line);
    expect(element('lt-cell-editor').className).toContain('off');
    await soon(() =>
      expect(sent.map((s) => [s.path, s.body.change])).toEqual([
        ['/books/fens/entries/moss/s1', { kind: 'score', points: 12 }],
      ]),
    );
    expect(element('[role=grid]').getAttribute('aria-activedescendant')).toBe('cell-1-0');
  });

  it('moves the cells and what lies over them by what the sheet is scrolled, names and standings not at all', async () => {
    const view = page.debugElement.injector.get(LedgerView);
    const cursor = (): string => element('.cursor').style.left;
    await press('ArrowRight');
    const before = Number.parseFloat(cursor());
    expect(element('.still').style.getPropertyValue('--scrolled')).toBe('0px');
    view.scroll.set({ top: 0, left: 40 });
    await page.whenStable();
    expect(element('.still').style.getPropertyValue('--scrolled')).toBe('40px');
    expect(Number.parseFloat(cursor())).toBe(before - 40);
    // As wide as the window, so that it never needs to move.
    expect(Number.parseFloat(element('.still').style.width)).toBe(Math.min(view.room().width, view.bodyWidth()));
  });

  it('goes on by half a sheet at its foot, and then lies still', async () => {
    const view = page.debugElement.injector.get(LedgerView);
    view.room.set({ width: 900, height: headHeight(0) + 26 });
    await page.whenStable();
    expect(view.scroll().top).toBe(0);
    element('.grid').scrollTo = (() => undefined) as never;
    await press('ArrowDown');
    // Two students, one in sight: there is no more to go on to.
    expect(view.scroll().top).toBe(26);
    await press('ArrowUp');
    expect(view.scroll().top).toBe(0);
  });

  it('lists those whom the look has chosen, in its order, whatever changes meanwhile', async () => {
    const names = (): string[] =>
      [...(page.nativeElement as HTMLElement).querySelectorAll('.name b')].map((n) => n.textContent!);
    page.debugElement.injector.get(LedgerView).change({ sort: { by: 'moss', down: true } });
    await page.whenStable();
    const before = names();
    kept = { attempts: [{ score: 1 }] };
    const first = element('.row .standing b').textContent;
    await TestBed.inject(BookStore).change({
      student: 's1',
      item: 'moss',
      change: { kind: 'score', points: 1 },
      typed: '1',
    });
    await soon(() => expect(element('.row .standing b').textContent).not.toBe(first));
    expect(names()).toEqual(before);
    page.debugElement.injector.get(LedgerView).change({ sort: { by: 'moss', down: true } });
    await page.whenStable();
    expect(names()).toEqual(before.reverse());
  });

  it('takes the score that an excused cell had before for a change, and the score that it has for none', async () => {
    const type = async (text: string): Promise<void> => {
      await press(text[0]!);
      const line = element('lt-cell-editor input') as HTMLInputElement;
      line.value = text;
      line.dispatchEvent(new InputEvent('input', { inputType: 'insertText', bubbles: true }));
      await press('Enter', line);
    };
    await type('16');
    expect(sent).toEqual([]);
    kept = { state: 'excused', attempts: [{ score: 16 }] };
    await TestBed.inject(BookStore).change({
      student: 's1',
      item: 'moss',
      change: { kind: 'state', state: 'excused' },
      typed: 'excused',
    });
    await page.whenStable();
    expect(element('[role=gridcell]').textContent).toContain('excused');
    sent.length = 0;
    await press('ArrowUp');
    await type('16');
    await soon(() => expect(sent.map((s) => s.body.change)).toEqual([{ kind: 'score', points: 16 }]));
  });

  it('gives nothing up on Escape and sends nothing', async () => {
    await press('9');
    await press('Escape', element('lt-cell-editor input'));
    expect(element('lt-cell-editor').className).toContain('off');
    expect(sent).toEqual([]);
    expect(element('[role=gridcell]').textContent).toContain('16.0');
  });
});
