import { computed, inject, Injectable, signal } from '@angular/core';
import { Subject } from 'rxjs';
import { canonical } from '@core/book/canonical';
import type { Mark, WorkMarkRow, WorkMarkWrite } from '@contract/work/marks';
import { Api, ApiProblem, newOperation } from '../../api';
import { LocalStore } from './local-store';
import { Sender, waits } from './sender';

/** One piece of work that is marked on. */
export interface MarkedPlace {
  book: string;
  submission: string;
}

/** A mark as it is to become, until the server has kept it. */
export interface UnsentMark extends MarkedPlace {
  /** Of person and mark: later changes take the place of earlier ones. */
  key: string;
  person: string;
  id: string;
  leaf: string;
  mark: Mark | null;
  /** The version that it goes on from. */
  version: number;
  /** As it was sent, with no answer yet: the server may have any of these already. */
  sent?: (Mark | null)[];
}

/** Milliseconds that changes of one mark are gathered: words as they are typed, a mark as it is moved. */
const GATHERED = 400;

export const marksPath = (p: MarkedPlace): string => `/books/${p.book}/submissions/${p.submission}/marks`;
const same = (a: Mark | null, b: Mark | null): boolean => canonical(a) === canonical(b);

/**
 * Sends marks on the work until the server has kept them: over a dead line, a reload, another sign-in. Each mark stands for
 * itself; where somebody else changed the same one meanwhile both stand, one beside the other.
 */
@Injectable({ providedIn: 'root' })
export class MarkOutbox {
  private readonly api = inject(Api);
  private readonly waiting = signal<readonly UnsentMark[]>([]);
  private readonly disk = new LocalStore<UnsentMark>(
    'last-tally-marks',
    'marks',
    'key',
    'a mark could not be kept on this machine',
  );
  readonly failing = this.disk.failing;
  private readonly sender = new Sender(
    this.api,
    () => this.next(),
    (mark) => this.send(mark),
  );
  /** Why a mark cannot be kept as it is, by its key. */
  private readonly stuck = signal<ReadonlyMap<string, string>>(new Map());
  /** A mark as the server has it now. */
  readonly kept = new Subject<{ place: MarkedPlace; row: WorkMarkRow }>();
  /** Somebody else changed a mark at the same moment: what became of it in a sentence, and as which mark one's own goes on. */
  readonly crossed = new Subject<{ id: string; as: string | null; words: string }>();
  readonly mine = computed(() => this.waiting().filter((u) => u.person === this.api.person()));

  constructor() {
    globalThis.addEventListener?.('beforeunload', (event) => {
      if (this.failing() && this.count() > 0) event.preventDefault();
    });
  }

  /** Why something on this work cannot be kept; '' where nothing is wrong. */
  refusal(p: MarkedPlace): string {
    return this.unsent(p).map((u) => this.stuck().get(u.key) ?? '').find((why) => why !== '') ?? ''; // prettier-ignore
  }

  /** Takes up what was left on this machine by whoever is signed in. */
  async open(): Promise<void> {
    const kept = await this.disk.all();
    const known = new Set(this.waiting().map((u) => u.key));
    const left = kept.filter((u) => !known.has(u.key));
    if (left.length > 0) this.waiting.update((all) => [...left, ...all]);
    this.sender.soon(0);
  }

  /** What is not kept yet on one piece of work. */
  unsent(p: MarkedPlace): UnsentMark[] {
    return this.mine().filter((u) => u.book === p.book && u.submission === p.submission);
  }

  /** `version`: what the page had when it was changed, of a mark that nothing waits for yet. */
  put(p: MarkedPlace, m: { id: string; leaf: string; mark: Mark | null; version: number }): void {
    const person = this.api.person();
    const key = `${person} ${p.submission} ${m.id}`;
    const was = this.waiting().find((u) => u.key === key);
    // Made and taken off again before anybody heard of it.
    if (was && was.version === 0 && !was.sent && m.mark === null) return void this.forget(was);
    const next: UnsentMark = { ...(was ?? { ...p, key, person, id: m.id, leaf: m.leaf, version: m.version }), mark: m.mark }; // prettier-ignore
    this.stuck.update((all) => new Map([...all].filter(([k]) => k !== key)));
    this.hold(next);
    this.disk.putSoon(next);
    this.sender.soon(GATHERED);
  }

  count(): number {
    return this.mine().length;
  }

  /** Lets go of what waits, after its person said so at sign-out. */
  async clear(): Promise<void> {
    for (const u of this.mine()) await this.forget(u);
  }

  private hold(u: UnsentMark): void {
    this.waiting.update((all) => (all.some((x) => x.key === u.key) ? all.map((x) => (x.key === u.key ? u : x)) : [...all, u])); // prettier-ignore
  }

  private async forget(u: UnsentMark): Promise<void> {
    this.waiting.update((all) => all.filter((x) => x.key !== u.key));
    await this.disk.remove([u]);
  }

  private next(): UnsentMark | undefined {
    return this.mine().find((u) => !this.stuck().has(u.key));
  }

  private async send(u: UnsentMark): Promise<void> {
    const place: MarkedPlace = { book: u.book, submission: u.submission };
    const { mark } = u;
    // Before it goes: whoever reloads knows what the server may have.
    const going = { ...u, sent: [...(u.sent ?? []).filter((m) => !same(m, mark)), mark] };
    this.hold(going);
    void this.disk.put(going);
    const write: WorkMarkWrite = { version: u.version, leaf: u.leaf, mark };
    try {
      const row = await this.api.send<WorkMarkRow>('PUT', `${marksPath(place)}/${u.id}`, write);
      // First it is there as it is kept, then it waits no more: in between it would be gone from the page.
      this.kept.next({ place, row });
      await this.settle(u, mark, row.version);
    } catch (error) {
      const problem = error instanceof ApiProblem ? error : new ApiProblem('offline', String(error));
      if (waits(problem)) throw problem;
      if (problem.code === 'stale')
        return this.cross(u, place, (problem.now as WorkMarkRow | null | undefined) ?? null);
      // It stays here, and goes when it was changed.
      this.stuck.update((all) => new Map(all).set(u.key, problem.detail));
    }
  }

  /** What was sent is kept; what was changed since goes on from there. */
  private async settle(u: UnsentMark, sent: Mark | null, version: number): Promise<void> {
    const now = this.waiting().find((x) => x.key === u.key);
    if (!now) return;
    if (same(now.mark, sent)) return this.forget(now);
    const { sent: _, ...rest } = now;
    const left = { ...rest, version };
    this.hold(left);
    void this.disk.put(left);
  }

  /** Somebody else was first at this mark. */
  private async cross(u: UnsentMark, place: MarkedPlace, row: WorkMarkRow | null): Promise<void> {
    const now = this.waiting().find((x) => x.key === u.key) ?? u;
    // It is what this page sent before, and whose answer was lost.
    if (row && u.sent?.some((m) => same(m, row.mark))) {
      this.kept.next({ place, row });
      return this.settle(u, row.mark, row.version);
    }
    if (row) this.kept.next({ place, row });
    await this.forget(now);
    const by = row && !row.mine ? row.by : 'Somebody else';
    const { id } = u;
    if (now.mark === null)
      return this.crossed.next({ id, as: null, words: `${by} changed this mark meanwhile, so it stays.` });
    const as = newOperation();
    this.put(place, { id: as, leaf: u.leaf, mark: now.mark, version: 0 });
    this.crossed.next({ id, as, words: `${by} changed this mark meanwhile: both stand now, yours beside theirs.` });
  }
}
