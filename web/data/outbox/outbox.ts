import { cellKey } from '@contract/wire/cell-key';
import { computed, inject, Injectable, signal } from '@angular/core';
import { Subject } from 'rxjs';
import type { LevelDraft, LevelsMade } from '@contract/work/marking';
import type { ChangesMade, EntryState } from '@contract/scores';
import { Api, ApiProblem, newOperation } from '../api';
import type { PendingCell, PendingLevels, PendingQueues, PendingWrite } from './pending-writes';
import { keyOf, onVersions, requestOf, statesOf, without } from './pending-writes';
import { ownerOf, type Owner } from './pending-owner';
import { IdleWaiters } from './idle-waiters';
import { retryDelay } from './retry-delay';
import { nextToSend } from './send-order';
import { insisting, noteLevels } from './levels';
import { refusedCells, Troubles } from './troubles';
import { signedInAgain } from '../signed-in-again';

/** "slow": an answer takes longer than a second. */
export type LineState = 'up' | 'slow' | 'down' | 'signed-out';

/** What the server kept; `more` says of a cell that something newer of one's own still waits. */
type Kept = (book: string, states: EntryState[], more: (state: EntryState) => boolean) => void;

/** Times that a fault of the server is met before the change is said to be one that it cannot keep. */
const MOST_FAULTS = 4;
/** Milliseconds without an answer after which the next cell is sent all the same. */
const HELD_UP_FOR = 5_000;

/** Sends changes in the order they were made, cell by cell, until each is kept, clashes or is refused. */
@Injectable({ providedIn: 'root' })
export class Outbox {
  private readonly api = inject(Api);
  private readonly owners = new Map<string, Owner>();
  private readonly owner = signal<Owner>(ownerOf(''));
  private order = 0;
  private readonly sending = new Set<string>();
  private readonly faults = new Map<string, number>();
  /** Sent long ago, without an answer. */
  private readonly overdue = new Set<string>();
  private failures = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private kept: Kept = () => undefined;
  private readonly idlers = new IdleWaiters();
  private readonly trouble = new Troubles();

  /** Cells with something that is not kept yet. */
  readonly unkept = signal<ReadonlyMap<string, number>>(new Map());
  readonly troubles = this.trouble.byCell.asReadonly();
  /** What the server says that work was given, kept here or found when something clashed. */
  readonly drafts = new Subject<{ book: string; draft: LevelDraft }>();
  readonly line = signal<LineState>('up');
  /** This machine's disk keeps nothing: what is not kept by the server would be lost with the page. */
  readonly storageFailing = computed(() => this.owner().store.failing());

  constructor() {
    globalThis.addEventListener?.('online', () => this.tryNow());
    globalThis.addEventListener?.('beforeunload', (event) => {
      if (this.storageFailing() && this.unkept().size > 0) event.preventDefault();
    });
  }

  private get waiting(): PendingQueues {
    return this.owner().waiting;
  }

  /** Opens the store of one person; gives what still waits for a book, in the order made. */
  async open(person: string, book: string, kept: Kept): Promise<PendingWrite[]> {
    this.kept = kept;
    const owner = this.owners.get(person) ?? ownerOf(person);
    this.owners.set(person, owner);
    if (this.owner() !== owner) {
      this.owner.set(owner);
      this.trouble.clear();
      this.line.set('up');
    }
    // What the disk has from before, and what only this page has where the disk fails.
    for (const w of await owner.store.all())
      if (!owner.waiting.has(w.operation) && !this.sending.has(w.operation)) owner.waiting.add(w);
    const all = owner.waiting.values().sort((x, y) => x.order - y.order);
    this.order = Math.max(this.order, ...all.map((w) => w.order + 1), 0);
    this.publish();
    this.tryNow();
    return all.filter((w) => w.book === book);
  }

  /** Takes changes that are one. They are on this machine's disk before they are sent, where it has one that works. */
  async put(w: Omit<PendingWrite, 'order'>): Promise<void> {
    const { waiting, store, versions } = this.owner();
    // Here already, so that nothing that is typed later is sent before it.
    const pending = onVersions({ ...w, order: this.order++ }, versions);
    waiting.add(pending);
    this.publish();
    await store.replace([], [pending]);
    this.pump();
  }

  /** The person chose theirs, or dismissed a refusal: what waited for this cell is given up. */
  async drop(student: string, item: string): Promise<void> {
    const key = cellKey(student, item);
    const gone = [...this.waiting.of(key)];
    this.owner().versions.delete(key);
    this.trouble.forget(key);
    await this.replace(gone.map((w) => [w, [without(w, key)]]));
  }

  /** The person chose their own value over the other's. */
  async insist(student: string, item: string): Promise<void> {
    const key = cellKey(student, item);
    const trouble = this.troubles().get(key);
    if (trouble?.kind !== 'clash') return;
    this.owner().versions.set(key, trouble.theirs.version);
    this.trouble.forget(key);
    const [w] = this.waiting.of(key);
    if (w?.levels && trouble.draft) return this.replace([[w, [insisting(w, w.levels, trouble.draft)]]]);
    this.pump();
  }

  /** Levels of one piece of work that are not kept yet, in the order given. */
  levelsOf(student: string, item: string, work: string): PendingLevels[] {
    this.unkept();
    return this.waiting.of(cellKey(student, item)).flatMap((w) => (w.levels?.work === work ? [w.levels] : []));
  }

  count(): number {
    return this.waiting.values().reduce((n, w) => n + w.cells.length, 0);
  }

  /**
   * Ends when all that can be sent is kept. Cells that wait for a choice are left out. False: that has not come to pass
   * within so many milliseconds.
   */
  idle(milliseconds = 60_000): Promise<boolean> {
    const idle = this.idlers.wait(milliseconds);
    this.tellIdle();
    return idle;
  }

  /** Removes everything that waits, after the person said so at sign-out. */
  async clear(): Promise<void> {
    const { person, store, waiting } = this.owner();
    waiting.clear();
    this.trouble.clear();
    this.publish();
    await store.clear();
    this.owners.delete(person);
    this.owner.set(ownerOf(''));
  }

  tryNow(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    this.pump();
  }

  /** Others in the place of each, at its place in the order; those without a cell are none. */
  private async replace(pairs: [PendingWrite, PendingWrite[]][]): Promise<void> {
    const { waiting, store } = this.owner();
    const left = pairs.map(([w, others]) => [w, others.filter((o) => o.cells.length > 0)] as const);
    for (const [w, others] of left) waiting.replace(w, others);
    this.publish();
    await store.replace(
      left.map(([w]) => w.operation),
      left.flatMap(([, others]) => others),
    );
    this.pump();
  }

  /** Sends all whose turn it is: first in line for each of their cells, and none of those in trouble. */
  private pump(): void {
    if (this.line() === 'signed-out' && this.timer !== undefined) return;
    // Somebody else is signed in: what waits stays on the disk until its person is back.
    if (this.api.person() !== this.owner().person) return this.tellIdle();
    const next = nextToSend(this.waiting.values(), {
      isStuck: (w) => this.trouble.isStuck(w),
      isFirst: (w) => this.waiting.isFirst(w),
      isSending: (w) => this.sending.has(w.operation),
      isHeldUp: (w) => this.faults.has(w.operation) || this.overdue.has(w.operation),
    });
    for (const w of next) void this.send(w);
    this.tellIdle();
  }

  private tellIdle(): void {
    if (this.idlers.isEmpty || this.waiting.values().some((w) => !this.trouble.isStuck(w))) return;
    this.idlers.tell();
  }

  private async send(pending: PendingWrite): Promise<void> {
    const owner = this.owner();
    const { waiting, store, versions } = owner;
    this.sending.add(pending.operation);
    const slow = setTimeout(() => this.line.update((l) => (l === 'up' ? 'slow' : l)), 1_000);
    const late = setTimeout(() => {
      this.overdue.add(pending.operation);
      this.pump();
    }, HELD_UP_FOR);
    const w = onVersions(pending, versions);
    try {
      if (w !== pending) {
        waiting.replace(pending, [w]);
        await store.replace([], [w]);
      }
      const { method, path, body } = requestOf(w);
      const answer = await this.api.send<EntryState | ChangesMade | LevelsMade>(method, path, body);
      const states = statesOf(answer);
      this.failures = 0;
      this.faults.delete(w.operation);
      waiting.remove(w);
      for (const s of states) versions.set(cellKey(s.enrolment, s.assessment), s.version);
      if ('draft' in answer) {
        noteLevels(w, answer.draft, versions);
        this.drafts.next({ book: w.book, draft: answer.draft });
      }
      if (this.owner() === owner) {
        this.line.set('up');
        this.publish();
        this.kept(w.book, states, (s) => waiting.of(cellKey(s.enrolment, s.assessment)).length > 0);
      }
      await store.replace([w.operation], []);
      this.sending.delete(w.operation);
      this.pump();
    } catch (error) {
      this.sending.delete(w.operation);
      // With another person at this page it is tried when its own is back.
      if (this.owner() === owner) await this.failed(w, error);
      this.tellIdle();
    } finally {
      clearTimeout(slow);
      clearTimeout(late);
      this.overdue.delete(pending.operation);
    }
  }

  /** Somebody else marked the same, or typed a score that the levels do not make: a choice. */
  private levelsClash(w: PendingWrite, problem: ApiProblem): void {
    const { draft, cell } = problem.now as { draft: LevelDraft; cell: EntryState };
    this.drafts.next({ book: w.book, draft });
    this.trouble.add([{ kind: 'clash', waiting: w.cells[0]!, theirs: cell, draft, message: problem.detail }]);
  }

  private async failed(w: PendingWrite, error: unknown): Promise<void> {
    const problem = error instanceof ApiProblem ? error : new ApiProblem('offline', String(error));
    if (problem.code === 'stale' && w.levels) return this.levelsClash(w, problem);
    if (problem.code === 'stale') return this.clash(w, [problem.now as EntryState | EntryState[]].flat());
    if (problem.code === 'not-signed-in' || problem.code === 'not-genuine') {
      this.line.set('signed-out');
      this.timer ??= setTimeout(() => void this.lookForSignIn(), 3_000);
      return;
    }
    if (!problem.isTransient) return this.refuse(w, problem);
    if (problem.code === 'broken') {
      const faults = (this.faults.get(w.operation) ?? 0) + 1;
      this.faults.set(w.operation, faults);
      if (faults >= MOST_FAULTS) return this.refuse(w, problem);
    }
    this.line.set('down');
    this.timer ??= setTimeout(() => this.tryNow(), retryDelay(this.failures++));
  }

  /** The cells that somebody else changed wait for a choice, each by itself; the others go on together. */
  private async clash(w: PendingWrite, theirs: EntryState[]): Promise<void> {
    const byKey = new Map(theirs.map((t) => [cellKey(t.enrolment, t.assessment), t]));
    const mine = w.cells.filter((c) => byKey.has(keyOf(c)));
    this.trouble.add(mine.map((c) => ({ kind: 'clash', waiting: c, theirs: byKey.get(keyOf(c))! })));
    await this.setApart(w, mine);
  }

  /** Cells that the server cannot keep stay with its sentence; where it names some of many, the others go on. */
  private async refuse(w: PendingWrite, problem: ApiProblem): Promise<void> {
    const refused = refusedCells(w, problem);
    this.trouble.add([...refused].map(([c, message]) => ({ kind: 'refused', waiting: c, message })));
    await this.setApart(w, [...refused.keys()]);
  }

  /** Some cells of a set each by itself, the rest as before. */
  private async setApart(w: PendingWrite, some: PendingCell[]): Promise<void> {
    if (w.cells.length === 1) return;
    const rest = { ...w, operation: newOperation(), cells: w.cells.filter((c) => !some.includes(c)) };
    await this.replace([[w, [rest, ...some.map((c) => ({ ...w, operation: newOperation(), cells: [c] }))]]]);
  }

  /** Signed out: once the same person has signed in again, in any window, what waits goes on. */
  private async lookForSignIn(): Promise<void> {
    this.timer = undefined;
    if (!(await signedInAgain(this.api, this.owner().person))) {
      this.timer ??= setTimeout(() => void this.lookForSignIn(), 3_000);
      return;
    }
    this.tryNow();
  }

  private publish(): void {
    this.unkept.set(this.waiting.counts());
  }
}
