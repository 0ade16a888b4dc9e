import { TestBed } from '@angular/core/testing';
import { testPage, testSheet } from '../testing/book';
import { workerOf } from '../testing/worker';
import { SHEET_WORKER } from '../workers/sheet-client';
import { Api } from './api';
import { BookStore } from './book';

describe('the open book', () => {
  it('can be loaded once more before the first opening has ended', async () => {
    const worker = workerOf(testSheet);
    TestBed.configureTestingModule({
      providers: [
        { provide: Api, useValue: { token: () => '', get: async () => testPage() } },
        { provide: SHEET_WORKER, useValue: () => worker },
      ],
    });
    const store = TestBed.inject(BookStore);
    const first = store.open('fens', 'reload-1');
    await store.reload();
    await first;
    expect([store.problem(), store.students(), store.standings().length]).toEqual(['', ['s1', 's2'], 2]);
  });
});
