import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { expect, it } from 'vitest';
import type { FailedJobs } from '@contract/jobs';
import { Api } from '../../data/api';
import { FailedJobsList } from './failed-jobs';

it('shows what the server could not do, and tries it again once, however often it is clicked', async () => {
  let list: FailedJobs = [
    {
      ...{ id: 'j1', kind: 'exception-ends', tries: 8, failedAt: '2026-11-24T09:00:00Z' },
      ...{ message: 'It could not be done.', book: { id: 'fens', title: 'Fens' } },
    },
  ];
  const sent: string[] = [];
  const api = {
    person: () => 'office',
    get: async () => list,
    send: async (method: string, path: string) => {
      sent.push(`${method} ${path}`);
      await Promise.resolve();
      list = [];
      return { done: true };
    },
  };
  TestBed.configureTestingModule({ providers: [provideRouter([]), { provide: Api, useValue: api }] });
  const fixture = TestBed.createComponent(FailedJobsList);
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  expect(element.textContent.replace(/\s+/g, ' ')).toContain('End exceptions whose day has come · Fens');
  const [again] = element.querySelectorAll('button');
  again!.click();
  again!.click();
  await fixture.whenStable();
  expect(sent).toEqual(['POST /failed-jobs/j1/retry']);
  await fixture.whenStable();
  expect(element.textContent.trim()).toBe('');
});
