import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { EntryContent } from '@core/book/change';
import { Api } from '../state/api';
import { BookStore } from '../state/book';
import { testPage, testSheet } from '../testing/book';
import { workerOf } from '../testing/worker';
import { SHEET_WORKER } from '../workers/sheet-client';
import { LedgerPage } from './ledger';

const sent: { path: string; body: { change: unknown } }[] = [];
/** What the server says that the cell holds after a change. */
let kept: EntryContent;
const api = {
  token: () => '',
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
    expect(element('lt-cell-editor')).toBe(null);
    await vi.waitFor(() =>
      expect(sent.map((s) => [s.path, s.body.change])).toEqual([
        ['/books/fens/entries/moss/s1', { kind: 'score', points: 12 }],
      ]),
    );
    expect(element('[role=grid]').getAttribute('aria-activedescendant')).toBe('cell-1-0');
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
    await TestBed.inject(BookStore).change('s1', 'moss', { kind: 'state', state: 'excused' }, 'excused');
    await page.whenStable();
    expect(element('[role=gridcell]').textContent).toContain('excused');
    sent.length = 0;
    await press('ArrowUp');
    await type('16');
    await vi.waitFor(() => expect(sent.map((s) => s.body.change)).toEqual([{ kind: 'score', points: 16 }]));
  });

  it('gives nothing up on Escape and sends nothing', async () => {
    await press('9');
    await press('Escape', element('lt-cell-editor input'));
    expect(element('lt-cell-editor')).toBe(null);
    expect(sent).toEqual([]);
    expect(element('[role=gridcell]').textContent).toContain('16.0');
  });
});
