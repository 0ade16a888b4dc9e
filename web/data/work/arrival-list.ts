import { computed, effect, inject, Injectable, linkedSignal, resource, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { debounceTime, filter } from 'rxjs';
import type { BookPage } from '@contract/books';
import type { Arrivals } from '@contract/work/submissions';
import type { LiveEvent } from '@contract/presence';
import type { ThreadList } from '@contract/work/threads';
import { cellView } from '../../ui/text/cell-view';
import { day } from '../../ui/text/dates';
import { listName } from '../../ui/text/list-name';
import { FLAG, STATES } from '../../worker/protocol';
import { BookAnnotations } from '../annotations';
import { Api, messageOf } from '../api';
import { rowState, sameRows, sameStudents, withOpened, type ArrivalRow, type OpenedWork } from './arrival-rows';
import { BookStore } from '../book';
import { LiveStream } from '../live/live-stream';
import { Remembered } from '../remembered';

/** Milliseconds that changes of the book are gathered before the list is asked for again. */
const GATHERED = 400;

/** Every student of the open book with what came from them for one assessment; it follows by itself. For one page. */
@Injectable()
export class ArrivalList {
  private readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly annotations = inject(BookAnnotations);
  /** Which assessment; '' none yet. */
  readonly assessment = signal('');
  private readonly place = computed(() =>
    this.store.id() && this.assessment() ? `/books/${this.store.id()}/assessments/${this.assessment()}` : undefined,
  );
  private readonly loaded = resource({
    params: () => this.place(),
    loader: async ({ params }) => ({ of: params, list: await this.api.get<Arrivals>(`${params}/arrivals`) }),
  });
  private readonly threadList = resource({
    params: () => this.place(),
    loader: ({ params }) => this.api.get<ThreadList>(`${params}/threads`),
  });
  /** What was loaded last: while it is asked again the list stays. */
  private readonly last = signal<{ of: string; list: Arrivals } | null>(null);
  /** Grows each time that something was heard of the book. */
  readonly heard = signal(0);
  readonly arrivals = computed(() => (this.last()?.of === this.place() ? (this.last()?.list ?? null) : null));
  readonly asOf = computed(() => this.arrivals()?.asOf ?? '');
  readonly problem = computed(() => (this.loaded.error() ? messageOf(this.loaded.error()) : ''));
  readonly item = computed(() => this.store.assessments().get(this.assessment()) ?? null);
  readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');

  /** By name, as the book has them; a row of which nothing changed stays the same one. */
  readonly rows = linkedSignal<ArrivalRow[], ArrivalRow[]>({
    source: () => this.rowsNow(),
    computation: (now, before) => sameRows(before?.value ?? [], now),
  });

  private readonly known = new Remembered<ArrivalRow>();
  /** What was heard of who opened what: a list that was asked for before that does not have it. */
  private readonly openedWorks = new Map<string, OpenedWork>();

  private rowsNow(): ArrivalRow[] {
    const [arrivals, cells] = [this.arrivals(), this.store.cells()];
    this.store.revision();
    if (!arrivals || !cells) return [];
    const shared = [this.item()?.due ?? null, this.zone(), arrivals.asOf] as const;
    const threads = this.threadList.hasValue() ? this.threadList.value() : [];
    const asks = new Set(threads.filter((t) => t.unanswered).map((t) => t.enrolment));
    return arrivals.students.flatMap((student) => {
      const { enrolment } = student;
      const person = this.store.people().get(enrolment);
      const at = this.store.atCell(enrolment, this.assessment());
      if (!person || Number.isNaN(at)) return [];
      const beside = {
        section: this.store.sections().get(person.section ?? '') ?? '',
        asks: asks.has(enrolment),
        secondLook: this.annotations.noteAt(enrolment, this.assessment()).secondLookBy !== null,
      };
      const stamp = this.store.stampOf(this.store.studentIndex().get(enrolment)!);
      // A key that changes one student's row works out one row.
      const from = [this.assessment(), stamp, student, person, ...Object.values(beside), ...shared];
      return [this.known.get(enrolment, from, () => this.rowOf(student, person, at, beside))];
    });
  }

  private rowOf(
    student: Arrivals['students'][number],
    person: BookPage['students'][number],
    at: number,
    beside: Pick<ArrivalRow, 'section' | 'asks' | 'secondLook'>,
  ): ArrivalRow {
    const cells = this.store.cells()!;
    const itemDue = this.item()?.due ?? null;
    const view = cellView(cells, at, {
      ...{ asMarked: false, trouble: null, unkept: false },
      day: (moment) => day(moment, this.zone()),
    });
    const [state, flags] = [STATES[cells.state[at]!]!, cells.flags[at]!];
    const cell = { ...view, state, released: (flags & FLAG.released) !== 0, again: (flags & FLAG.again) !== 0 };
    return {
      enrolment: student.enrolment,
      name: listName(person),
      ...beside,
      due: student.due,
      ownDue: student.due !== null && itemDue !== null && Date.parse(student.due) !== Date.parse(itemDue),
      open: student.open,
      openAgain: student.openAgain,
      late: student.late,
      submissions: student.submissions,
      openedBy: student.openedBy,
      ...rowState(student, cell, this.arrivals()!.asOf),
    };
  }

  constructor() {
    effect(() => {
      const value = this.loaded.hasValue() ? this.loaded.value() : undefined;
      if (value)
        untracked(() => {
          const list = [...this.openedWorks.values()].reduce(withOpened, value.list);
          this.last.update((last) => ({ ...value, list: sameStudents(last?.list, list) }));
        });
    });
    inject(LiveStream)
      .events.pipe(
        // After a line that was down what stands beside the journal may be another.
        filter((e) => e.book === this.store.id() && ['cells', 'beside', 'book', 'hello'].includes(e.kind)),
        debounceTime(GATHERED),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.lookAgain());
    inject(LiveStream)
      .events.pipe(
        filter((e) => e.kind === 'opened' && e.book === this.store.id() && e.assessment === this.assessment()),
        takeUntilDestroyed(),
      )
      .subscribe((e) => this.noteOpened(e as OpenedWork & LiveEvent));
  }

  /** Somebody has opened what a student handed in, or looked it through. */
  noteOpened({ enrolment, work, by, through }: OpenedWork): void {
    const opened = { enrolment, work, by, through };
    this.openedWorks.set(Object.values(opened).join(' '), opened);
    this.last.update((last) => last && { ...last, list: withOpened(last.list, opened) });
  }

  /** Asks for all of it anew. */
  lookAgain(): void {
    this.loaded.reload();
    this.threadList.reload();
    this.heard.update((n) => n + 1);
  }
}
