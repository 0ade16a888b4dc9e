import { TestBed } from '@angular/core/testing';
import type { EntryState } from '@contract/entries';
import { Api, ApiProblem } from './api';
import { Outbox, type Waiting } from './outbox';

/** A server that keeps versions, and can be cut off. */
class FakeApi {
  down = false;
  readonly token = Object.assign(() => '', { set: (t: string) => void this.tokens.push(t) });
  readonly tokens: string[] = [];
  signedIn = true;
  me = '';

  async get() {
    return { me: this.signedIn ? { id: this.me, token: 'fresh' } : null };
  }
  readonly versions = new Map<string, number>();
  readonly got: { path: string; body: { operation: string; version: number; change: unknown } }[] = [];

  async send(
    _method: string,
    path: string,
    body: { operation: string; version: number; change: unknown },
  ): Promise<EntryState> {
    if (this.down) throw new ApiProblem('offline', 'no line');
    if (!this.signedIn) throw new ApiProblem('not-signed-in', 'sign in again');
    const now = this.versions.get(path) ?? 0;
    const [item, student] = path.split('/').slice(-2) as [string, string];
    const state = (version: number): EntryState => ({
      assessment: item,
      enrolment: student,
      version,
      entry: {},
      out: 0,
      seq: 1,
    });
    if (body.version !== now) throw new ApiProblem('stale', 'changed', state(now));
    this.got.push({ path, body });
    this.versions.set(path, now + 1);
    return state(now + 1);
  }
}

let api: FakeApi;
let outbox: Outbox;
let person = 0;
const kept: string[] = [];
const change = (points: number, version = 0, operation = `op-${points}-0000000`) => ({
  operation,
  book: 'fens',
  student: 's1',
  item: 'moss',
  version,
  change: { kind: 'score' as const, points },
  typed: String(points),
});
const settled = (): Promise<void> => vi.waitFor(() => expect(outbox.count()).toBe(0), { timeout: 5_000 });

beforeEach(async () => {
  api = new FakeApi();
  kept.length = 0;
  TestBed.resetTestingModule();
  TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
  outbox = TestBed.inject(Outbox);
  await outbox.open(`person-${++person}`, 'fens', (_state, w) => kept.push(w.typed));
});

describe('the outbox', () => {
  it('sends quick changes of one cell in turn, each on the version of the one before', async () => {
    await Promise.all([outbox.put(change(1)), outbox.put(change(2)), outbox.put(change(3))]);
    await settled();
    expect(api.got.map((g) => g.body.version)).toEqual([0, 1, 2]);
    expect(kept).toEqual(['1', '2', '3']);
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
    await vi.waitFor(() => expect(outbox.line()).toBe('down'));
    TestBed.resetTestingModule();
    const later = new FakeApi();
    TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: later }] });
    const again = TestBed.inject(Outbox);
    const left: Waiting[] = await again.open(`person-${person}`, 'fens', () => undefined);
    expect(left.map((w) => [w.typed, w.operation])).toEqual([['7', 'op-7-0000000']]);
    await vi.waitFor(() => expect(later.got.map((g) => g.body.operation)).toEqual(['op-7-0000000']));
  });

  it('tries again by itself once the line is back', async () => {
    api.down = true;
    await outbox.put(change(5));
    await vi.waitFor(() => expect(outbox.line()).toBe('down'));
    api.down = false;
    await settled();
    expect([outbox.line(), kept]).toEqual(['up', ['5']]);
  });

  it('waits while the person is signed out, and goes on with the new token once they are back', async () => {
    api.signedIn = false;
    api.me = `person-${person}`;
    await outbox.put(change(6));
    await vi.waitFor(() => expect(outbox.line()).toBe('signed-out'));
    expect(outbox.count()).toBe(1);
    api.signedIn = true;
    await settled();
    expect([api.tokens, kept]).toEqual([['fresh'], ['6']]);
  });

  it('stops at a clash until the person chooses', async () => {
    api.versions.set('/books/fens/entries/moss/s1', 3);
    await outbox.put(change(4));
    await vi.waitFor(() => expect(outbox.troubles().get('s1 moss')?.kind).toBe('clash'));
    expect(api.got).toEqual([]);
    await outbox.insist('s1', 'moss');
    await settled();
    expect(api.got.map((g) => g.body.version)).toEqual([3]);
    await outbox.put(change(9, 0, 'op-9-0000000'));
    api.versions.set('/books/fens/entries/moss/s1', 8);
    await outbox.put(change(10, 0, 'op-10-000000'));
    await vi.waitFor(() => expect(outbox.troubles().size).toBe(1));
    await outbox.drop('s1', 'moss');
    expect([outbox.count(), outbox.troubles().size]).toEqual([0, 0]);
  });
});
