import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Api, ApiProblem } from './api';
import { Operations } from './operations';

/** Answers in turn; the last one again and again. */
function open(...answers: (() => unknown)[]) {
  const sent: { path: string; body: { operation: string } }[] = [];
  const person = signal('p1');
  const api = {
    person,
    send: async (_method: string, path: string, body: { operation: string }) => {
      sent.push({ path, body });
      return answers[Math.min(sent.length, answers.length) - 1]!();
    },
  };
  TestBed.resetTestingModule();
  TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
  return { operations: TestBed.inject(Operations), sent, person };
}
const lost = (): never => {
  throw new ApiProblem('offline', 'no line');
};
const operationsOf = (sent: { body: { operation: string } }[]): number =>
  new Set(sent.map((s) => s.body.operation)).size;

beforeEach(() => {
  vi.useFakeTimers();
  sessionStorage.clear();
});
afterEach(() => vi.useRealTimers());

describe('what a person decides', () => {
  it('is sent once for two clicks, and anew once it was answered', async () => {
    const { operations, sent } = open(() => 'done');
    const [a, b] = [operations.submit('POST', '/x', { n: 1 }), operations.submit('POST', '/x', { n: 1 })];
    expect([await a, await b, sent.length]).toEqual(['done', 'done', 1]);
    await operations.submit('POST', '/x', { n: 1 });
    expect(operationsOf(sent)).toBe(2);
  });

  it('is the same operation where the answer is lost, by itself and over a reload', async () => {
    const { operations, sent } = open(lost, lost, () => 'done');
    const answer = operations.submit('POST', '/x', { n: 1 });
    await vi.advanceTimersByTimeAsync(60_000);
    expect([await answer, sent.length, operationsOf(sent)]).toEqual(['done', 3, 1]);
    const gone = open(lost);
    const given = gone.operations.submit('POST', '/x', { n: 2 }).catch((e: unknown) => e);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(await given).toMatchObject({ detail: expect.stringMatching(/done once, however often/) });
    const after = open(() => 'done');
    await after.operations.submit('POST', '/x', { n: 2 });
    expect(after.sent[0]!.body).toEqual(gone.sent[0]!.body);
  });

  it('is another where it is another wish, another person’s, or was refused', async () => {
    const { operations, sent, person } = open(() => {
      throw new ApiProblem('stale', 'changed');
    });
    for (const body of [{ n: 1 }, { n: 1 }, { n: 2 }])
      await expect(operations.submit('POST', '/x', body)).rejects.toThrow('changed');
    expect([sent.length, operationsOf(sent)]).toEqual([3, 3]);
    const gone = open(lost);
    gone.person.set('p2');
    const given = gone.operations.submit('POST', '/x', { n: 9 }).catch(() => undefined);
    await vi.advanceTimersByTimeAsync(60_000);
    await given;
    const after = open(() => 'done');
    await after.operations.submit('POST', '/x', { n: 9 });
    expect(after.sent[0]!.body.operation).not.toBe(gone.sent[0]!.body.operation);
    expect(person()).toBe('p1');
  });

  it('is not tried for ever where the server is broken', async () => {
    const { operations, sent } = open(() => {
      throw new ApiProblem('broken', 'something went wrong');
    });
    const given = operations.submit('POST', '/x', {}).catch((e: unknown) => e);
    await vi.advanceTimersByTimeAsync(60_000);
    expect([await given, sent.length]).toMatchObject([{ detail: 'something went wrong' }, 2]);
  });
});
