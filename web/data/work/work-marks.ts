import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { filter } from 'rxjs';
import { canonical } from '@core/book/canonical';
import { tidyMark } from '@core/marks/work-mark';
import type { Mark, WorkMarkRow, WorkMarks as Rows } from '@contract/work/marks';
import { Api, messageOf } from '../api';
import { LiveStream } from '../live/live-stream';
import { MarkOutbox, marksPath, type MarkedPlace } from './outbox/mark-outbox';

/** A mark as the page shows it: what the server has, and over it what is not kept yet. */
export interface ShownMark {
  id: string;
  leaf: string;
  mark: Mark;
  by: string;
  mine: boolean;
  at: string;
  version: number;
  kept: boolean;
}

/** One step that can be taken back: what a mark was and became. Null: it was not there. */
interface Step {
  id: string;
  leaf: string;
  was: Mark | null;
  is: Mark | null;
}

/** Milliseconds until marks are fetched: whoever only steps by fetches none. */
const FETCHED_AFTER = 80;
/** Milliseconds that news of marks are gathered. */
const GATHERED = 150;
/** Steps that can be taken back on one piece of work. */
const MOST_STEPS = 200;
const same = (a: Mark | null, b: Mark | null): boolean => canonical(a) === canonical(b);

/** The marks on the piece of work that is shown, followed live; each change is kept at once and can be taken back. For one page. */
@Injectable()
export class WorkMarks {
  private readonly api = inject(Api);
  private readonly outbox = inject(MarkOutbox);
  /** What is shown; null: nothing is. */
  readonly place = signal<MarkedPlace | null>(null, {
    equal: (a, b) => a?.book === b?.book && a?.submission === b?.submission,
  });
  private readonly rows = signal<{ of: string; rows: ReadonlyMap<string, WorkMarkRow> }>({ of: '', rows: new Map() });
  private readonly of = computed(() => (this.place() ? marksPath(this.place()!) : ''));
  private readonly known = computed(() => (this.rows().of === this.of() ? this.rows().rows : null));
  readonly isThere = computed(() => this.known() !== null);
  readonly problem = signal('');
  /** Marks that are on the work and cannot be read any more. */
  readonly faulty = computed(() => [...(this.known()?.values() ?? [])].filter((r) => r.mark === null).length);
  readonly refusal = computed(() => (this.place() ? this.outbox.refusal(this.place()!) : ''));
  readonly failing = computed(() => this.outbox.failing() && this.unsent().length > 0);
  private readonly unsent = computed(() => (this.place() ? this.outbox.unsent(this.place()!) : []));
  private readonly steps = new Map<string, { done: Step[]; undone: Step[] }>();
  private readonly stepped = signal(0);

  readonly shown = computed((): ShownMark[] => {
    const all = new Map<string, ShownMark>();
    for (const r of this.known()?.values() ?? []) if (r.mark) all.set(r.id, { ...r, mark: r.mark, kept: true });
    for (const u of this.unsent()) {
      if (u.mark === null) all.delete(u.id);
      else
        all.set(u.id, {
          ...(all.get(u.id) ?? { id: u.id, leaf: u.leaf, by: '', mine: true, at: '', version: u.version }),
          ...{ mark: u.mark, kept: false },
        });
    }
    return [...all.values()];
  });

  constructor() {
    effect((onCleanup) => {
      const place = this.place();
      this.problem.set('');
      if (!place) return;
      const timer = setTimeout(() => void this.load(), untracked(this.known) ? 0 : FETCHED_AFTER);
      onCleanup(() => clearTimeout(timer));
    });
    this.outbox.kept.pipe(takeUntilDestroyed()).subscribe(({ place, row }) => {
      if (marksPath(place) === this.of()) this.put(row);
    });
    let timer: ReturnType<typeof setTimeout> | undefined;
    inject(LiveStream)
      .events.pipe(
        // After a line that was down, or a page that nobody looked at, others may have marked.
        filter((e) => e.kind === 'hello' || (e.kind === 'marks' && e.work === this.place()?.submission)),
        filter((e) => e.book === this.place()?.book),
        takeUntilDestroyed(),
      )
      .subscribe(() => {
        clearTimeout(timer);
        timer = setTimeout(() => void this.load(), GATHERED);
      });
  }

  async load(): Promise<void> {
    const of = this.of();
    if (of === '') return;
    try {
      const rows = await this.api.get<Rows>(of);
      if (of !== this.of()) return;
      this.rows.set({ of, rows: new Map(rows.map((r) => [r.id, r])) });
      this.problem.set('');
    } catch (error) {
      if (of === this.of()) this.problem.set(messageOf(error));
    }
  }

  private put(row: WorkMarkRow): void {
    const was = this.known()?.get(row.id);
    if (!this.known() || (was && was.version > row.version)) return;
    const rows = new Map(this.known());
    if (row.mark === null) rows.delete(row.id);
    else rows.set(row.id, row);
    this.versions.set(row.id, row.version);
    this.rows.set({ of: this.of(), rows });
  }

  /** Of marks that were taken off: the version that they were taken off with. */
  private readonly versions = new Map<string, number>();

  find(id: string): ShownMark | null {
    return this.shown().find((m) => m.id === id) ?? null;
  }

  /** `id`: a UUID of its own. */
  make(id: string, leaf: string, mark: Mark): void {
    this.apply({ id, leaf, was: null, is: tidyMark(mark) });
  }

  /** `together`: with the step before, where that was of the same mark, such as letters of one comment. */
  change(id: string, mark: Mark, together = false): void {
    const was = this.find(id);
    const is = tidyMark(mark);
    if (!was || same(was.mark, is)) return;
    this.apply({ id, leaf: was.leaf, was: was.mark, is }, together);
  }

  takeOff(id: string): void {
    const was = this.find(id);
    if (was) this.apply({ id, leaf: was.leaf, was: was.mark, is: null });
  }

  private apply(step: Step, together = false): void {
    const steps = this.stepsHere();
    const before = steps.done.at(-1);
    if (together && before?.id === step.id && before.is !== null)
      steps.done[steps.done.length - 1] = { ...before, is: step.is }; // prettier-ignore
    else steps.done = [...steps.done, step].slice(-MOST_STEPS);
    steps.undone = [];
    this.write(step, step.is);
  }

  private write(step: Step, mark: Mark | null): void {
    const place = this.place();
    if (!place) return;
    const version = this.known()?.get(step.id)?.version ?? this.versions.get(step.id) ?? 0;
    this.outbox.put(place, { id: step.id, leaf: step.leaf, mark, version });
    this.stepped.update((n) => n + 1);
  }

  private stepsHere(): { done: Step[]; undone: Step[] } {
    const of = this.of();
    if (!this.steps.has(of)) this.steps.set(of, { done: [], undone: [] });
    return this.steps.get(of)!;
  }

  readonly canUndo = computed(() => (this.stepped(), this.of(), this.stepsHere().done.length > 0));
  readonly canRedo = computed(() => (this.stepped(), this.of(), this.stepsHere().undone.length > 0));

  /** Takes back one's own last step; a sentence where somebody else changed that mark since. */
  undo(): string | null {
    const steps = this.stepsHere();
    return this.back(steps.done, steps.undone, (s) => [s.is, s.was]);
  }

  redo(): string | null {
    const steps = this.stepsHere();
    return this.back(steps.undone, steps.done, (s) => [s.was, s.is]);
  }

  private back(from: Step[], to: Step[], of: (s: Step) => [from: Mark | null, to: Mark | null]): string | null {
    const step = from.pop();
    if (!step) return null;
    const [is, becomes] = of(step);
    this.stepped.update((n) => n + 1);
    if (!same(this.find(step.id)?.mark ?? null, is)) return 'Somebody changed this mark since: it stays as it is.';
    to.push(step);
    this.write(step, becomes);
    return null;
  }
}
