import { cellKey } from '@contract/cell-key';
import { inject, Injectable, signal } from '@angular/core';
import { openDB, type IDBPDatabase } from 'idb';
import type { ChangesMade, ChangesWrite, EntryState } from '@contract/scores';
import type { MaybeMe } from '@contract/accounts';
import { Api, ApiProblem, newOperation } from './api';
import {
  keyOf,
  reasonOf,
  renewed,
  PendingQueues,
  without,
  type Older,
  type PendingWrite,
  type PendingCell,
} from './pending-writes';

export type Trouble =
  | { kind: 'clash'; waiting: PendingCell; theirs: EntryState }
  | { kind: 'refused'; waiting: PendingCell; message: string };

/** "slow": an answer takes longer than a second. */
export type LineState = 'up' | 'slow' | 'down' | 'signed-out';

/** What the server kept; `more` says of a cell that something newer of one's own still waits. */
type Kept = (book: string, states: EntryState[], more: (state: EntryState) => boolean) => void;

const DELAYS = [500, 1_000, 2_000, 5_000, 10_000];

/** Sends changes in the order they were made, cell by cell, until each is kept, clashes or is refused. */
@Injectable({ providedIn: 'root' })
export class Outbox {
  private readonly api = inject(Api);
  private database: Promise<IDBPDatabase> | null = null;
  private person = '';
  private order = 0;
  private readonly waiting = new PendingQueues();
  private readonly versions = new Map<string, number>();
  private readonly sending = new Set<string>();
  private failures = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private kept: Kept = () => undefined;
  private idlers: (() => void)[] = [];

  /** Cells with something that is not kept yet. */
  readonly unkept = signal<ReadonlyMap<string, number>>(new Map());
  readonly troubles = signal<ReadonlyMap<string, Trouble>>(new Map());
  readonly line = signal<LineState>('up');

  constructor() {
    globalThis.addEventListener?.('online', () => this.tryNow());
  }

  /** Opens the store of one person; gives what still waits for a book, in the order made. */
  async open(person: string, book: string, kept: Kept): Promise<PendingWrite[]> {
    this.kept = kept;
    if (this.person !== person) {
      this.person = person;
      this.waiting.clear();
      this.database = openDB(`last-tally-${person}`, 1, {
        upgrade: (db) => void db.createObjectStore('waiting', { keyPath: 'operation' }),
      });
    }
    const stored = ((await (await this.database!).getAll('waiting')) as (PendingWrite | Older)[]).map(renewed);
    stored.sort((a, b) => a.order - b.order);
    this.order = Math.max(this.order, ...stored.map((w) => w.order + 1), 0);
    this.versions.clear();
    for (const w of stored) if (!this.waiting.has(w.operation)) this.waiting.add(w);
    this.publish();
    this.tryNow();
    return stored.filter((w) => w.book === book);
  }

  /** Takes changes that are one. They are on this machine's disk before they are sent. */
  async put(w: Omit<PendingWrite, 'order'>): Promise<void> {
    const waiting = { ...w, order: this.order++ };
    this.waiting.add(waiting);
    this.publish();
    await this.store((db) => db.put('waiting', waiting));
    this.pump();
  }

  /** The person chose theirs, or dismissed a refusal: what waited for this cell is given up. */
  async drop(student: string, item: string): Promise<void> {
    const key = cellKey(student, item);
    const gone = [...this.waiting.of(key)];
    this.versions.delete(key);
    this.forgetTrouble(key);
    for (const w of gone) await this.replace(w, [without(w, key)]);
  }

  /** The person chose their own value over the other's. */
  async insist(student: string, item: string): Promise<void> {
    const key = cellKey(student, item);
    const trouble = this.troubles().get(key);
    if (trouble?.kind !== 'clash') return;
    this.versions.set(key, trouble.theirs.version);
    this.forgetTrouble(key);
    this.pump();
  }

  count(): number {
    return this.waiting.values().reduce((n, w) => n + w.cells.length, 0);
  }

  /** Ends when all that can be sent is kept. Cells that wait for a choice are left out. */
  idle(): Promise<void> {
    return new Promise((done) => {
      this.idlers.push(done);
      this.tellIdle();
    });
  }

  /** Removes everything that waits, after the person said so at sign-out. */
  async clear(): Promise<void> {
    this.waiting.clear();
    this.troubles.set(new Map());
    this.publish();
    await this.store((db) => db.clear('waiting'));
    this.person = '';
  }

  tryNow(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    this.pump();
  }

  /** Others in the place of one, at its place in the order; those without a cell are none. */
  private async replace(w: PendingWrite, others: PendingWrite[]): Promise<void> {
    const left = others.filter((o) => o.cells.length > 0);
    this.waiting.replace(w, left);
    this.publish();
    await this.store(async (db) => {
      const tx = db.transaction('waiting', 'readwrite');
      await Promise.all([tx.store.delete(w.operation), ...left.map((o) => tx.store.put(o)), tx.done]);
    });
    this.pump();
  }

  /** Sends all whose turn it is: first in line for each of their cells, and none of those in trouble. */
  private pump(): void {
    if (this.line() === 'signed-out' && this.timer !== undefined) return;
    for (const w of this.waiting.values()) if (!this.sending.has(w.operation) && this.isReady(w)) void this.send(w);
    this.tellIdle();
  }

  private isReady(w: PendingWrite): boolean {
    const troubles = this.troubles();
    return this.waiting.isFirst(w) && !w.cells.some((c) => troubles.has(keyOf(c)));
  }

  private tellIdle(): void {
    if (this.idlers.length === 0) return;
    const troubles = this.troubles();
    const waits = this.waiting.values().some((w) => !w.cells.some((c) => troubles.has(keyOf(c))));
    if (waits) return;
    const idlers = this.idlers;
    this.idlers = [];
    for (const done of idlers) done();
  }

  private async send(w: PendingWrite): Promise<void> {
    this.sending.add(w.operation);
    const slow = setTimeout(() => this.line.update((l) => (l === 'up' ? 'slow' : l)), 1_000);
    try {
      const states = await this.call(w);
      this.failures = 0;
      this.line.set('up');
      this.waiting.remove(w);
      for (const s of states) this.versions.set(cellKey(s.enrolment, s.assessment), s.version);
      this.publish();
      this.kept(w.book, states, (s) => this.waiting.of(cellKey(s.enrolment, s.assessment)).length > 0);
      await this.store((db) => db.delete('waiting', w.operation));
      this.sending.delete(w.operation);
      this.pump();
    } catch (error) {
      this.sending.delete(w.operation);
      await this.failed(w, error);
      this.tellIdle();
    } finally {
      clearTimeout(slow);
    }
  }

  private async call(w: PendingWrite): Promise<EntryState[]> {
    // One's own last write may be newer than what the sheet showed when this was typed.
    const version = (c: PendingCell): number => Math.max(this.versions.get(keyOf(c)) ?? 0, c.version);
    const [only] = w.cells;
    if (w.cells.length === 1)
      return [
        await this.api.send<EntryState>('PUT', `/books/${w.book}/entries/${only!.item}/${only!.student}`, {
          operation: w.operation,
          version: version(only!),
          change: only!.change,
          ...reasonOf(only!.typed),
        }),
      ];
    const made = await this.api.send<ChangesMade>('POST', `/books/${w.book}/changes`, {
      operation: w.operation,
      kind: w.kind,
      // What is typed for a whole selection has one reason.
      ...(w.kind === 'change' ? reasonOf(only!.typed) : {}),
      cells: w.cells.map((c) => ({
        assessment: c.item,
        enrolment: c.student,
        version: version(c),
        change: c.change,
      })),
    } satisfies ChangesWrite);
    return made.cells;
  }

  private async failed(w: PendingWrite, error: unknown): Promise<void> {
    const problem = error instanceof ApiProblem ? error : new ApiProblem('offline', String(error));
    if (problem.code === 'stale') {
      const now = problem.now as EntryState | EntryState[];
      return this.clash(w, Array.isArray(now) ? now : [now]);
    }
    if (problem.code === 'not-signed-in' || problem.code === 'not-genuine') {
      this.line.set('signed-out');
      this.timer ??= setTimeout(() => void this.lookForSignIn(), 3_000);
      return;
    }
    if (!problem.isTransient) return this.refuse(w, problem);
    this.line.set('down');
    const delay = DELAYS[Math.min(this.failures++, DELAYS.length - 1)]!;
    this.timer ??= setTimeout(() => this.tryNow(), delay);
  }

  /** The cells that somebody else changed wait for a choice, each by itself; the others go on together. */
  private async clash(w: PendingWrite, theirs: EntryState[]): Promise<void> {
    const byKey = new Map(theirs.map((t) => [cellKey(t.enrolment, t.assessment), t]));
    const mine = w.cells.filter((c) => byKey.has(keyOf(c)));
    this.trouble(mine.map((c) => ({ kind: 'clash', waiting: c, theirs: byKey.get(keyOf(c))! })));
    await this.setApart(w, mine);
  }

  /** Cells that the server cannot keep stay with its sentence; where it names some of many, the others go on. */
  private async refuse(w: PendingWrite, problem: ApiProblem): Promise<void> {
    const messages = new Map(
      problem.errors.flatMap((f) => {
        const cell = w.cells[Number(/^\/cells\/(\d+)\//.exec(f.pointer)?.[1] ?? NaN)];
        return cell ? [[cell, f.detail] as const] : [];
      }),
    );
    const wrong = messages.size > 0 ? [...messages.keys()] : w.cells;
    this.trouble(wrong.map((c) => ({ kind: 'refused', waiting: c, message: messages.get(c) ?? problem.detail })));
    await this.setApart(w, wrong);
  }

  /** Some cells of a set each by itself, the rest as before. */
  private async setApart(w: PendingWrite, some: PendingCell[]): Promise<void> {
    if (w.cells.length === 1) return;
    await this.replace(w, [
      { ...w, operation: newOperation(), cells: w.cells.filter((c) => !some.includes(c)) },
      ...some.map((c) => ({ ...w, operation: newOperation(), cells: [c] })),
    ]);
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

  private trouble(troubles: Trouble[]): void {
    this.troubles.update((t) => new Map([...t, ...troubles.map((x) => [keyOf(x.waiting), x] as const)]));
  }

  private forgetTrouble(key: string): void {
    this.troubles.update((t) => {
      const next = new Map(t);
      next.delete(key);
      return next;
    });
  }

  private publish(): void {
    this.unkept.set(this.waiting.counts());
  }

  private async store(work: (db: IDBPDatabase) => Promise<unknown>): Promise<void> {
    if (this.database) await work(await this.database);
  }
}
