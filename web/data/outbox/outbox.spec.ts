import { TestBed } from '@angular/core/testing';
import { openDB } from 'idb';
import { Api, ApiProblem } from '../api';
import { Outbox } from './outbox';
import type { PendingWrite } from './pending-writes';
import { ScoreApi } from '../../testing/score-api';
import { soon } from '../../testing/soon';

let api: ScoreApi;
let outbox: Outbox;
let person = 0;
const kept: string[] = [];
const cell = (points: number, version = 0, student = 's1') => ({
  student,
  item: 'moss',
  version,
  change: { kind: 'score' as const, points },
  typed: String(points),
});
const change = (points: number, version = 0, operation = `op-${points}-0000000`) => ({
  operation,
  book: 'fens',
  kind: 'change' as const,
  cells: [cell(points, version)],
});
const paste = (...cells: ReturnType<typeof cell>[]) => ({
  operation: 'op-paste-000000',
  book: 'fens',
  kind: 'paste' as const,
  cells,
});
const settled = (): Promise<void> => soon(() => expect(outbox.count()).toBe(0));

beforeEach(async () => {
  api = new ScoreApi();
  kept.length = 0;
  TestBed.resetTestingModule();
  TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
  outbox = TestBed.inject(Outbox);
  api.person.set(`person-${++person}`);
  await outbox.open(`person-${person}`, 'fens', (_book, states) =>
    kept.push(states.map((s) => `${s.enrolment} ${s.version}`).join(', ')),
  );
});

describe('the outbox', () => {
  it('sends quick changes of one cell in turn, each on the version of the one before', async () => {
    await Promise.all([outbox.put(change(1)), outbox.put(change(2)), outbox.put(change(3))]);
    await settled();
    expect(api.got.map((g) => g.body.version)).toEqual([0, 1, 2]);
    expect(kept).toEqual(['s1 1', 's1 2', 's1 3']);
  });

  it('does not clash with itself when the sheet is not up to date yet', async () => {
    await outbox.put(change(1));
    await settled();
    await outbox.put(change(2, 0));
    await settled();
    expect(outbox.troubles().size).toBe(0);
  });

  it('keeps what it cannot send on disk: another page of the same person finds it', async () => {
    api.down = true;
    await outbox.put(change(7));
    await soon(() => expect(outbox.line()).toBe('down'));
    TestBed.resetTestingModule();
    const later = new ScoreApi();
    later.person.set(`person-${person}`);
    TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: later }] });
    const again = TestBed.inject(Outbox);
    const left: PendingWrite[] = await again.open(`person-${person}`, 'fens', () => undefined);
    expect(left.map((w) => [w.cells[0]!.typed, w.operation])).toEqual([['7', 'op-7-0000000']]);
    await soon(() => expect(later.got.map((g) => g.body.operation)).toEqual(['op-7-0000000']));
  });

  it('tries again by itself once the line is back', async () => {
    api.down = true;
    await outbox.put(change(5));
    await soon(() => expect(outbox.line()).toBe('down'));
    api.down = false;
    await settled();
    expect([outbox.line(), kept]).toEqual(['up', ['s1 1']]);
  });

  it('waits while the person is signed out, and goes on with the new token once they are back', async () => {
    api.signedIn = false;
    api.me = `person-${person}`;
    await outbox.put(change(6));
    await soon(() => expect(outbox.line()).toBe('signed-out'));
    expect(outbox.count()).toBe(1);
    api.signedIn = true;
    await settled();
    expect([api.tokens, kept]).toEqual([['fresh'], ['s1 1']]);
  });

  it('stops at a clash until the person chooses', async () => {
    api.versions.set('s1 moss', 3);
    await outbox.put(change(4));
    await soon(() => expect(outbox.troubles().get('s1 moss')?.kind).toBe('clash'));
    expect(api.got).toEqual([]);
    await outbox.insist('s1', 'moss');
    await settled();
    expect(api.got.map((g) => g.body.version)).toEqual([3]);
    await outbox.put(change(9, 0, 'op-9-0000000'));
    api.versions.set('s1 moss', 8);
    await outbox.put(change(10, 0, 'op-10-000000'));
    await soon(() => expect(outbox.troubles().size).toBe(1));
    await outbox.drop('s1', 'moss');
    expect([outbox.count(), outbox.troubles().size]).toEqual([0, 0]);
  });

  it('sends a paste as one, after what was typed before and before what is typed after', async () => {
    await Promise.all([
      outbox.put(change(1)),
      outbox.put(paste(cell(2), cell(3, 0, 's2'))),
      outbox.put(change(4, 0, 'op-4-0000000')),
    ]);
    await outbox.idle();
    expect(api.got.map((g) => g.body.cells?.map((c) => c.version) ?? g.body.version)).toEqual([0, [1, 0], 2]);
    expect(kept).toEqual(['s1 1', 's1 2, s2 1', 's1 3']);
  });

  /** Answers that the test lets go, in the order in which the writes were sent. */
  const heldAnswers = (): (() => void)[] => {
    const answers: (() => void)[] = [];
    const send = api.send.bind(api);
    api.send = async (...args: Parameters<typeof send>) => {
      const answer = await send(...args);
      await new Promise<void>((done) => answers.push(done));
      return answer;
    };
    return answers;
  };

  it('sends cells that are typed within one answer’s time in the order typed', async () => {
    const answers = heldAnswers();
    for (const student of ['s3', 's1', 's2'])
      await outbox.put({ ...change(1, 0, `op-${student}-000000`), cells: [cell(1, 0, student)] });
    for (const expected of [['s3'], ['s3', 's1'], ['s3', 's1', 's2']]) {
      await soon(() => expect(answers).toHaveLength(1));
      expect(api.got.map((g) => g.path.split('/').pop())).toEqual(expected);
      answers.shift()!();
    }
    await settled();
  });

  it('holds no cell up behind one that the server breaks at', async () => {
    const send = api.send.bind(api);
    vi.spyOn(api, 'send').mockImplementation((method, path, body) =>
      path.endsWith('/s1')
        ? Promise.reject(new ApiProblem('broken', 'Something went wrong.'))
        : send(method, path, body),
    );
    await outbox.put(change(1));
    await soon(() => expect(outbox.line()).toBe('down'));
    await outbox.put({ ...change(2, 0, 'op-s2-000000'), cells: [cell(2, 0, 's2')] });
    await soon(() => expect(kept).toEqual(['s2 1']));
    expect(outbox.count()).toBe(1);
  });

  it('keeps sets in the order in which they were made with single cells, of other cells too', async () => {
    const answers = heldAnswers();
    await outbox.put(change(35));
    await outbox.put({ ...change(2, 0, 'op-set-0000001'), cells: [cell(2, 0, 's2'), cell(2, 0, 's3')] });
    await outbox.put({ ...change(3, 0, 'op-after-00001'), cells: [cell(3, 0, 's4')] });
    const sent = () => api.got.map((g) => g.path.split('/').pop());
    for (const expected of [['s1'], ['s1', 'changes'], ['s1', 'changes', 's4']]) {
      await soon(() => expect(answers).toHaveLength(1));
      expect(sent()).toEqual(expected);
      answers.shift()!();
    }
    await outbox.idle();
  });

  it('keeps the rest of a paste that clashes in one cell, and asks of that', async () => {
    api.versions.set('s2 moss', 5);
    await outbox.put(paste(cell(1), cell(2, 0, 's2'), cell(3, 0, 's3')));
    await soon(() => expect(outbox.count()).toBe(1));
    expect(api.got.map((g) => g.body.cells?.map((c) => c.enrolment))).toEqual([['s1', 's3']]);
    expect(outbox.troubles().get('s2 moss')).toMatchObject({ kind: 'clash', theirs: { version: 5 } });
    await outbox.insist('s2', 'moss');
    await settled();
    expect(api.versions.get('s2 moss')).toBe(6);
  });

  it('keeps the rest of a paste of which one cell cannot be', async () => {
    api.impossible.add('s1 moss');
    await outbox.put(paste(cell(1), cell(2, 0, 's2')));
    await soon(() => expect(outbox.count()).toBe(1));
    expect([outbox.troubles().get('s1 moss')?.kind, api.versions.get('s2 moss')]).toEqual(['refused', 1]);
    await outbox.drop('s1', 'moss');
    expect([outbox.count(), outbox.troubles().size]).toEqual([0, 0]);
  });

  it('reads what an earlier version of the application left on the disk', async () => {
    const older = { ...cell(8), operation: 'op-older-000000', book: 'fens', order: 0 };
    const db = await openDB(`last-tally-person-${person}`, 1);
    await db.put('waiting', older);
    db.close();
    TestBed.resetTestingModule();
    TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
    const left = await TestBed.inject(Outbox).open(`person-${person}`, 'fens', () => undefined);
    expect(left).toMatchObject([{ operation: 'op-older-000000', kind: 'change', cells: [{ typed: '8' }] }]);
    await soon(() => expect(api.versions.get('s1 moss')).toBe(1));
  });

  it('sends what a disk that refuses, or never answers, cannot keep, and says so', async () => {
    for (const broken of [
      () => Promise.reject(new Error('the disk is full')),
      () => new Promise<never>(() => undefined),
    ]) {
      const store = vi.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
        throw new Error('the disk is full');
      });
      const opening = vi.spyOn(indexedDB, 'open').mockImplementation(() => {
        void broken().catch(() => undefined);
        return {
          addEventListener: () => undefined,
          removeEventListener: () => undefined,
        } as unknown as IDBOpenDBRequest;
      });
      vi.spyOn(console, 'error').mockImplementation(() => undefined);
      TestBed.resetTestingModule();
      TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
      const failing = TestBed.inject(Outbox);
      api.person.set(`failing-${++person}`);
      api.versions.clear();
      expect(await failing.open(`failing-${person}`, 'fens', () => undefined)).toEqual([]);
      expect(failing.storageFailing()).toBe(true);
      await failing.put(change(3));
      await soon(() => expect(api.versions.get('s1 moss')).toBe(1));
      expect(failing.count()).toBe(0);
      store.mockRestore();
      opening.mockRestore();
    }
  }, 60_000);

  it('sends nothing of one person in the name of another, and goes on when they are back', async () => {
    const me = `person-${person}`;
    api.down = true;
    await outbox.put(change(5));
    await soon(() => expect(outbox.line()).toBe('down'));
    api.person.set('somebody else');
    api.down = false;
    await outbox.open('somebody else', 'fens', () => undefined);
    outbox.tryNow();
    await outbox.put(change(6, 0, 'op-6-0000000'));
    await soon(() => expect(api.got.map((g) => g.body.operation)).toEqual(['op-6-0000000']));
    api.versions.clear();
    api.person.set(me);
    await outbox.open(me, 'fens', () => undefined);
    await soon(() => expect(api.got.map((g) => g.body.operation)).toEqual(['op-6-0000000', 'op-5-0000000']));
  });

  it('says of a change that the server breaks at that it cannot be kept, and does not wait for ever', async () => {
    const send = vi.spyOn(api, 'send').mockRejectedValue(new ApiProblem('broken', 'Something went wrong.'));
    await outbox.put(change(4));
    await soon(() => {
      outbox.tryNow();
      expect(outbox.troubles().get('s1 moss')).toMatchObject({ kind: 'refused', message: 'Something went wrong.' });
    });
    expect(send.mock.calls).toHaveLength(4);
    expect(await outbox.idle(10)).toBe(true);
  });

  it('ends waiting where the line does not come back', async () => {
    api.down = true;
    await outbox.put(change(4));
    expect(await outbox.idle(20)).toBe(false);
  });

  it('sends a write again as it was sent first, whatever was kept in between', async () => {
    await outbox.put(change(1));
    await settled();
    api.down = true;
    await outbox.put(change(2, 0));
    await soon(() => expect(outbox.line()).toBe('down'));
    TestBed.resetTestingModule();
    const later = new ScoreApi();
    later.person.set(`person-${person}`);
    later.versions.set('s1 moss', 1);
    TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: later }] });
    await TestBed.inject(Outbox).open(`person-${person}`, 'fens', () => undefined);
    await soon(() => expect(later.got.map((g) => g.body.version)).toEqual([1]));
  });
});
