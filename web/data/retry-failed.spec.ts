import { Injector, resource, runInInjectionContext, type ResourceRef } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { ApiProblem } from './api';
import { retryFailed } from './retry-failed';

describe('what could not be read', () => {
  beforeEach(() => vi.useFakeTimers());
  afterEach(() => {
    TestBed.resetTestingModule();
    vi.useRealTimers();
  });
  const settle = async (milliseconds = 0): Promise<void> => {
    TestBed.tick();
    await vi.advanceTimersByTimeAsync(milliseconds);
    TestBed.tick();
    await vi.advanceTimersByTimeAsync(0);
  };
  /** A resource that answers as it is told, and how often it was asked. */
  const asked = () => {
    const answers = { error: null as Error | null, times: 0 };
    const read: ResourceRef<string | undefined> = runInInjectionContext(TestBed.inject(Injector), () => {
      const made = resource({
        loader: () => {
          answers.times++;
          return answers.error ? Promise.reject(answers.error) : Promise.resolve('there');
        },
      });
      retryFailed(made);
      return made;
    });
    return { answers, read };
  };

  it('is read again with pauses that grow, until it is there', async () => {
    const { answers, read } = asked();
    answers.error = new ApiProblem('offline', 'no answer');
    await settle();
    expect([answers.times, read.status()]).toEqual([1, 'error']);
    await settle(120_000);
    const before = answers.times;
    expect(before).toBeGreaterThan(1);
    // It says so while it is tried again.
    expect(read.error()).toBe(answers.error);
    answers.error = null;
    await settle(120_000);
    expect([read.status(), read.hasValue() && read.value()]).toEqual(['resolved', 'there']);
    const then = answers.times;
    await settle(600_000);
    expect(answers.times).toBe(then);
  });

  it('is read at once when the line is back', async () => {
    const { answers, read } = asked();
    answers.error = new ApiProblem('offline', 'no answer');
    await settle();
    answers.error = null;
    globalThis.dispatchEvent(new Event('online'));
    await settle();
    expect(read.status()).toBe('resolved');
  });

  it('stays refused where the server refused it', async () => {
    const { answers, read } = asked();
    answers.error = new ApiProblem('not-found', 'nothing there');
    await settle(600_000);
    globalThis.dispatchEvent(new Event('online'));
    await settle();
    expect([answers.times, read.status()]).toEqual([1, 'error']);
  });
});
