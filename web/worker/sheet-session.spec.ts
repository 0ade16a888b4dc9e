import { beforeEach, describe, expect, it } from 'vitest';
import type { SheetHost, SheetWorker } from './protocol';
import { SheetClosed, sheetSessions } from './sheet-session';

interface Call {
  name: string;
  args: unknown[];
  answer(value: unknown): void;
  fail(error: unknown): void;
}

let calls: Call[];
let worker: SheetWorker;
beforeEach(() => {
  calls = [];
  const called =
    (name: string) =>
    (...args: unknown[]) =>
      new Promise((answer, fail) => calls.push({ name, args, answer, fail }));
  worker = sheetSessions(
    Object.fromEntries(
      ['open', 'openAsOf', 'ask', 'readText', 'readFile', 'guess', 'leftOut'].map((name) => [name, called(name)]),
    ) as unknown as SheetHost,
  );
});

const fate = (promise: Promise<unknown>): Promise<unknown> =>
  promise.then(
    (value) => value,
    (error: unknown) => error,
  );

describe('sessions with the worker', () => {
  it('name the book that each question is of', () => {
    void worker.open('fens');
    void worker.content('s1', 'moss');
    void worker.open('hills');
    void worker.content('s1', 'moss');
    expect(calls.map((c) => [c.name, c.args])).toEqual([
      ['open', [1, 'fens']],
      ['ask', [1, 'content', ['s1', 'moss']]],
      ['open', [2, 'hills']],
      ['ask', [2, 'content', ['s1', 'moss']]],
    ]);
  });

  it('give no answer that comes after another book was opened, nor its failure', async () => {
    void worker.open('fens');
    const late = fate(worker.contents('s1'));
    const failed = fate(worker.warnings(null));
    const slow = fate(calls[0]!.args ? worker.standings() : Promise.reject());
    void worker.open('hills');
    calls[1]!.answer(['of fens']);
    calls[2]!.fail(new Error('of fens'));
    calls[3]!.answer('of fens');
    for (const one of [late, failed, slow]) expect(await one).toBeInstanceOf(SheetClosed);
  });

  it('go on where the same book is loaded again, and end where one looks at it as it stood', async () => {
    void worker.open('fens');
    const asked = fate(worker.contents('s1'));
    void worker.open('fens');
    calls[1]!.answer(['kept']);
    expect(await asked).toEqual(['kept']);
    const before = fate(worker.contents('s1'));
    void worker.openAsOf('fens', '12');
    calls[3]!.answer(['now']);
    expect(await before).toBeInstanceOf(SheetClosed);
    void worker.open('fens');
    expect(calls.filter((c) => c.name.startsWith('open')).map((c) => c.args[0])).toEqual([1, 1, 2, 3]);
  });

  it('tell what failed as it is', async () => {
    void worker.open('fens');
    const failed = fate(worker.warnings(null));
    calls[1]!.fail(new Error('broken'));
    expect(((await failed) as Error).message).toBe('broken');
  });

  it('read a table without any book', async () => {
    const read = worker.readText('a;b');
    calls[0]!.answer('table');
    expect(await read).toBe('table');
    expect(calls[0]!.args).toEqual(['a;b']);
  });
});
