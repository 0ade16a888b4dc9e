import { computed, inject, Injectable, linkedSignal, resource, signal } from '@angular/core';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute } from '@angular/router';
import { debounceTime, filter, map, merge } from 'rxjs';
import { noTicks, tickOf, type Tick, type TickCounts } from '@core/statistics/ticks';
import type { SlipState } from '@contract/slips';
import { messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { LiveStream } from '../../data/live/live-stream';
import { retryFailed } from '../../data/retry-failed';
import { MarkOutbox } from '../../data/work/outbox/mark-outbox';
import { NoteOutbox } from '../../data/work/outbox/note-outbox';
import { Slips } from '../../data/work/slips';
import { cellView, type CellView } from '../../ui/text/cell-view';
import { day } from '../../ui/text/dates';
import { listName } from '../../ui/text/list-name';
import { FLAG, STATES } from '../../worker/protocol';
import { slipWords, visibleWords, type SlipWords } from './slip-words';

/** Milliseconds that news are gathered. */
const GATHERED = 400;

/** One student of the assessment that was chosen, as they stand. */
export interface ReleaseRow {
  id: string;
  name: string;
  section: string;
  tick: Tick;
  out: 0 | 1 | 2;
  slip: SlipState | null;
  words: SlipWords;
  cell: CellView;
}

const outOf = (flags: number): 0 | 1 | 2 => (flags & FLAG.released ? 1 : flags & FLAG.changed ? 2 : 0);

/** What the page of releases lists: assessments, and everybody of the one that was chosen, kept up with what others do. */
@Injectable()
export class ReleaseList {
  private readonly store = inject(BookStore);
  private readonly slips = inject(Slips);
  private readonly named = toSignal(inject(ActivatedRoute).queryParamMap.pipe(map((q) => q.get('assessment'))));
  /** As the address names it until another is picked. The page stays the same one when its address or its book changes. */
  readonly chosen = linkedSignal<unknown, string | null>({
    source: () => [this.store.id(), this.named()],
    computation: () => this.named() ?? null,
  });
  /** Counts how often it was asked where everybody stands. */
  readonly asked = signal(0);

  readonly assessments = computed(() => {
    this.store.revision();
    const zone = this.store.page()?.timeZone ?? 'UTC';
    return this.store.items().map((id, col) => {
      const a = this.store.assessments().get(id);
      return { id, title: a?.title ?? '', due: a?.due ? day(a.due, zone) : '', ticks: this.ticks(col) };
    });
  });
  readonly current = computed(() => this.assessments().find((a) => a.id === this.chosen()) ?? null);
  readonly namesHidden = computed(() => this.store.assessments().get(this.chosen() ?? '')?.namesHidden === true); // prettier-ignore
  readonly people = computed((): ReleaseRow[] => {
    this.store.revision();
    const col = this.store.items().indexOf(this.chosen() ?? '');
    const cells = this.store.cells();
    const known = this.known();
    if (col < 0 || !cells || this.namesHidden()) return [];
    const zone = this.store.page()?.timeZone ?? 'UTC';
    return this.store.students().map((id, s) => {
      const at = this.store.at(s, col);
      const p = this.store.people().get(id);
      const out = outOf(cells.flags[at]!);
      return {
        id,
        name: p ? listName(p) : '',
        section: p?.section ? (this.store.sections().get(p.section) ?? '') : '',
        tick: tickOf(STATES[cells.state[at]!]!, out),
        out,
        slip: known.get(id) ?? null,
        words: slipWords(known.get(id) ?? null, out, zone),
        cell: cellView(cells, at, { asMarked: false, trouble: null, unkept: false, day: (d) => day(d, zone) }),
      };
    });
  });

  /** Where everybody's slip stands; empty until it is known. */
  private readonly states = resource({
    params: () => {
      const [book, assessment] = [this.store.id(), this.chosen()];
      return book && assessment && this.store.assessments().has(assessment) && this.store.page() && !this.namesHidden()
        ? { book, assessment, at: this.asked() }
        : undefined;
    },
    loader: ({ params }) => this.slips.states(params.book, params.assessment),
  });
  readonly unread = computed(() => (this.states.error() ? messageOf(this.states.error()) : ''));
  readonly isLoading = this.states.isLoading;
  private readonly known = linkedSignal<ReadonlyMap<string, SlipState> | undefined, ReadonlyMap<string, SlipState>>({
    source: () =>
      this.states.hasValue() ? new Map(this.states.value()!.students.map((s) => [s.enrolment, s])) : undefined,
    computation: (now, before) => now ?? before?.value ?? new Map(),
  });
  readonly visible = computed(() => (this.known().size === 0 ? '' : visibleWords([...this.known().values()], this.store.page()?.timeZone ?? 'UTC'))); // prettier-ignore

  constructor() {
    retryFailed(this.states);
    // What others write, give and mark meanwhile.
    const others = inject(LiveStream).events.pipe(
      filter((e) => ['feedback', 'marks', 'beside', 'slip', 'hello'].includes(e.kind)),
    );
    // And what of one's own was kept late.
    merge(others, inject(NoteOutbox).merged, inject(MarkOutbox).kept)
      .pipe(debounceTime(GATHERED), takeUntilDestroyed())
      .subscribe(() => this.askAgain());
  }

  askAgain(): void {
    this.asked.update((n) => n + 1);
  }

  private ticks(col: number): TickCounts {
    const counts = noTicks();
    const cells = this.store.cells();
    if (!cells) return counts;
    this.store.students().forEach((_, s) => {
      const at = this.store.at(s, col);
      counts[tickOf(STATES[cells.state[at]!]!, outOf(cells.flags[at]!))]++;
    });
    return counts;
  }
}
