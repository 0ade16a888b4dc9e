import { inject, Injectable, signal } from '@angular/core';
import { openDB, type IDBPDatabase } from 'idb';
import type { CellChange } from '@core/book/change';
import type { EntryState } from '@contract/entries';
import type { MaybeMe } from '@contract/people';
import { Api, ApiProblem } from './api';

/** A change that the server has not kept yet. It waits in IndexedDB, so that a reload or a dead line loses nothing. */
export interface Waiting {
  operation: string;
  book: string;
  student: string;
  item: string;
  /** The version that the person saw. */
  version: number;
  change: CellChange;
  /** What was typed, for telling the person. */
  typed: string;
  order: number;
}

export type Trouble =
  { kind: 'clash'; waiting: Waiting; theirs: EntryState } | { kind: 'refused'; waiting: Waiting; says: string };

/** "slow": an answer takes longer than a second. */
export type LineState = 'up' | 'slow' | 'down' | 'signed-out';

type Kept = (state: EntryState, waiting: Waiting, more: boolean) => void;

export const cellKey = (student: string, item: string): string => `${student} ${item}`;
const DELAYS = [500, 1_000, 2_000, 5_000, 10_000];

/** Sends changes in the order they were typed, cell by cell, until each is kept, clashes or is refused. */
@Injectable({ providedIn: 'root' })
export class Outbox {
  private readonly api = inject(Api);
  private database: Promise<IDBPDatabase> | null = null;
  private person = '';
  private order = 0;
  private readonly queues = new Map<string, Waiting[]>();
  private readonly versions = new Map<string, number>();
  private readonly sending = new Set<string>();
  private failures = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private kept: Kept = () => undefined;

  /** Cells with something that is not kept yet. */
  readonly unkept = signal<ReadonlyMap<string, number>>(new Map());
  readonly troubles = signal<ReadonlyMap<string, Trouble>>(new Map());
  readonly line = signal<LineState>('up');

  constructor() {
    globalThis.addEventListener?.('online', () => this.tryNow());
  }

  /** Opens the store of one person; gives what still waits for a book, in the order typed. */
  async open(person: string, book: string, kept: Kept): Promise<Waiting[]> {
    this.kept = kept;
    if (this.person !== person) {
      this.person = person;
      this.queues.clear();
      this.versions.clear();
      this.database = openDB(`last-tally-${person}`, 1, {
        upgrade: (db) => void db.createObjectStore('waiting', { keyPath: 'operation' }),
      });
    }
    const all = ((await (await this.database!).getAll('waiting')) as Waiting[]).sort((a, b) => a.order - b.order);
    this.order = Math.max(this.order, ...all.map((w) => w.order + 1), 0);
    this.versions.clear();
    const known = new Set([...this.queues.values()].flat().map((w) => w.operation));
    for (const w of all) if (!known.has(w.operation)) this.queue(w);
    this.publish();
    this.tryNow();
    return all.filter((w) => w.book === book);
  }

  /** Takes one change. It is on this machine's disk before it is sent. */
  async put(w: Omit<Waiting, 'order'>): Promise<void> {
    const waiting = { ...w, order: this.order++ };
    this.queue(waiting);
    this.publish();
    await this.store((db) => db.put('waiting', waiting));
    void this.drain(cellKey(w.student, w.item));
  }

  /** The person chose theirs, or dismissed a refusal: what waited for this cell is given up. */
  async drop(student: string, item: string): Promise<void> {
    const key = cellKey(student, item);
    const gone = this.queues.get(key) ?? [];
    this.queues.delete(key);
    this.versions.delete(key);
    this.forgetTrouble(key);
    this.publish();
    await this.store(async (db) => {
      for (const w of gone) await db.delete('waiting', w.operation);
    });
  }

  /** The person chose their own value over the other's. */
  async insist(student: string, item: string): Promise<void> {
    const key = cellKey(student, item);
    const trouble = this.troubles().get(key);
    const queue = this.queues.get(key);
    if (trouble?.kind !== 'clash' || !queue) return;
    this.versions.set(key, trouble.theirs.version);
    this.forgetTrouble(key);
    await this.drain(key);
  }

  count(): number {
    return [...this.queues.values()].reduce((n, q) => n + q.length, 0);
  }

  /** Removes everything that waits, after the person said so at sign-out. */
  async clear(): Promise<void> {
    this.queues.clear();
    this.troubles.set(new Map());
    this.publish();
    await this.store((db) => db.clear('waiting'));
    this.person = '';
  }

  tryNow(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    for (const key of this.queues.keys()) void this.drain(key);
  }

  private queue(w: Waiting): void {
    const key = cellKey(w.student, w.item);
    const queue = this.queues.get(key);
    if (queue) queue.push(w);
    else this.queues.set(key, [w]);
  }

  private async drain(key: string): Promise<void> {
    if (this.sending.has(key) || this.troubles().has(key)) return;
    this.sending.add(key);
    try {
      for (let queue = this.queues.get(key); queue?.length; queue = this.queues.get(key)) {
        if (!(await this.sendFirst(key, queue))) return;
      }
    } finally {
      this.sending.delete(key);
    }
  }

  /** Sends the first of a cell. True where the next may follow. */
  private async sendFirst(key: string, queue: Waiting[]): Promise<boolean> {
    const w = queue[0]!;
    const slow = setTimeout(() => this.line.update((l) => (l === 'up' ? 'slow' : l)), 1_000);
    try {
      const state = await this.api.send<EntryState>('PUT', `/books/${w.book}/entries/${w.item}/${w.student}`, {
        operation: w.operation,
        // One's own last write may be newer than what the sheet showed when this was typed.
        version: Math.max(this.versions.get(key) ?? 0, w.version),
        change: w.change,
      });
      this.failures = 0;
      this.line.set('up');
      queue.shift();
      this.versions.set(key, state.version);
      if (queue.length === 0) this.queues.delete(key);
      this.publish();
      this.kept(state, w, queue.length > 0);
      await this.store((db) => db.delete('waiting', w.operation));
      return true;
    } catch (error) {
      this.failed(key, w, error);
      return false;
    } finally {
      clearTimeout(slow);
    }
  }

  private failed(key: string, waiting: Waiting, error: unknown): void {
    const problem = error instanceof ApiProblem ? error : new ApiProblem('offline', String(error));
    if (problem.code === 'stale')
      return this.trouble(key, { kind: 'clash', waiting, theirs: problem.now as EntryState });
    if (problem.code === 'not-signed-in' || problem.code === 'not-genuine') {
      this.line.set('signed-out');
      this.timer ??= setTimeout(() => void this.lookForSignIn(), 3_000);
      return;
    }
    if (!problem.passing) return this.trouble(key, { kind: 'refused', waiting, says: problem.says });
    this.line.set('down');
    const delay = DELAYS[Math.min(this.failures++, DELAYS.length - 1)]!;
    this.timer ??= setTimeout(() => this.tryNow(), delay);
  }

  /** Signed out: once the same person has signed in again, in any window, what waits goes on. */
  private async lookForSignIn(): Promise<void> {
    this.timer = undefined;
    const me = await this.api.get<MaybeMe>('/session').then(
      (answer) => answer.me,
      () => null,
    );
    if (me?.id !== this.person) {
      this.timer ??= setTimeout(() => void this.lookForSignIn(), 3_000);
      return;
    }
    this.api.token.set(me.token);
    this.tryNow();
  }

  private trouble(key: string, trouble: Trouble): void {
    this.troubles.update((t) => new Map(t).set(key, trouble));
  }

  private forgetTrouble(key: string): void {
    this.troubles.update((t) => {
      const next = new Map(t);
      next.delete(key);
      return next;
    });
  }

  private publish(): void {
    this.unkept.set(new Map([...this.queues].map(([key, q]) => [key, q.length])));
  }

  private async store(work: (db: IDBPDatabase) => Promise<unknown>): Promise<void> {
    if (this.database) await work(await this.database);
  }
}
