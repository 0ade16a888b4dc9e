import { computed, effect, inject, Injectable, linkedSignal, signal, untracked, type Signal } from '@angular/core';
import { ArrivalList } from '../../../data/work/arrival-list';
import { BookStore } from '../../../data/book';
import { BY_VALUE } from '../../../data/by-value';
import { LevelDrafts } from '../../../data/work/level-drafts';
import { Remembered } from '../../../data/remembered';
import { Walk } from '../../../data/work/walk';
import type { ArrivalRow } from '../../../data/work/arrival-rows';
import { keepOrder, keptOrder } from '../kept-settings';
import { hideName, reedNames, withoutName } from './reed-names';
import { filledIn } from '../../../data/work/phrases';
import { nextWaiting, ordered, type Order } from './marking-order';
import { countsOf, unfinishedRow } from './marking-rows';

/** Everybody whose work for one assessment is marked: in which order, who is listed, who is looked at, who is next. For one page. */
@Injectable()
export class MarkingList {
  private readonly store = inject(BookStore);
  private readonly list = inject(ArrivalList);
  private readonly drafts = inject(LevelDrafts);
  private readonly walks = inject(Walk);
  readonly order = signal<Order>(keptOrder());
  readonly waitingOnly = signal(false);
  /** Whom the address names. */
  readonly asked = signal<Signal<string | undefined>>(signal(undefined));
  /** Whose work is looked at; '' nobody's. */
  readonly chosen = linkedSignal(() => this.asked()() ?? '');
  /** Some alone are gone through, such as those whom a changed rubric concerns. */
  readonly walk = computed(() => this.walks.of(this.store.id(), this.list.assessment()));
  private readonly within = computed(() => (this.walk() ? new Set(this.walk()!.enrolments) : null));

  /** Names are hidden on this page, by its reader alone. */
  readonly hidden = signal(false);
  /** Nobody is named on this page: by its reader's wish, or since the assessment is marked so. */
  readonly nameless = computed(() => this.hidden() || this.store.veiled() !== '');
  /** With reed names where names are hidden, in the order of these. */
  private readonly named = computed(() => {
    if (!this.hidden()) return this.list.rows();
    const names = reedNames(this.list.rows().map((r) => r.enrolment), this.list.assessment()); // prettier-ignore
    return this.list.rows().map((r) => hideName(r, names.get(r.enrolment)!)).sort((a, b) => (a.name < b.name ? -1 : 1)); // prettier-ignore
  });

  /** A phrase with the student's first name, or without it while names are hidden. */
  phrase(words: string, enrolment: string): string {
    return this.nameless() ? withoutName(words) : filledIn(words, this.store.people().get(enrolment)?.given ?? '');
  }

  /** What a student is called on this page, in short. */
  shortName(enrolment: string): string {
    if (this.hidden()) return this.rows().find((r) => r.enrolment === enrolment)?.name ?? '';
    return this.store.people().get(enrolment)?.family ?? '';
  }

  private readonly known = new Remembered<ArrivalRow>();
  /** Whose work is marked in part waits still. */
  readonly rows = computed(() => {
    const rubric = this.drafts.rubric();
    if (!rubric) return this.named();
    return this.named().map((r) => {
      const work = this.drafts.workOf(r.enrolment);
      const waits = this.drafts.waiting(r.enrolment, work);
      // What a colleague or oneself gives to one student is looked at of one.
      const from = [r, rubric, this.drafts.kept(r.enrolment, work), waits.length === 0 ? null : waits];
      return this.known.get(r.enrolment, from, () => unfinishedRow(r, rubric, this.drafts.marks(r.enrolment, work)));
    });
  });

  /** In the order that was chosen; it stays while one marks, so that nobody jumps away under one's hands. */
  private readonly sequence = signal<string[]>([]);
  readonly everybody = computed(() => {
    const rows = new Map(this.rows().map((r) => [r.enrolment, r]));
    const known = this.sequence().flatMap((e) => rows.get(e) ?? []);
    const listed = new Set(this.sequence());
    const fresh = this.rows().filter((r) => !listed.has(r.enrolment));
    return [...known, ...fresh];
  });
  /** Whoever is looked at stays listed, though they do not wait any more. */
  readonly shown = computed(() =>
    this.everybody().filter(
      (r) =>
        (!this.within() || this.within()!.has(r.enrolment)) &&
        (!this.waitingOnly() || r.kind === 'to mark' || r.enrolment === this.chosen()),
    ),
  );
  readonly hides = computed(() => this.everybody().length - this.shown().length);
  readonly current = computed(() => this.rows().find((r) => r.enrolment === this.chosen()) ?? null);
  readonly waiting = computed(() => this.rows().filter((r) => r.kind === 'to mark').length);
  readonly counts = computed(() => countsOf(this.rows()));

  /** Before it is known whether there is a rubric a digit is neither a level nor a score. */
  readonly knowsRubric = this.drafts.isAnswered;
  readonly ready = computed(() => this.list.arrivals() !== null && this.store.cells() !== null && this.knowsRubric());

  /** How many wait, by assessment. */
  readonly waitingBy = this.store.waitingBy;
  /** Those of the book, to choose from. */
  readonly assessments = computed(
    () =>
      (this.store.page()?.assessments ?? []).map((a) => {
        const n = this.waitingBy().get(a.id) ?? 0;
        return { value: a.id, text: n > 0 ? `${a.title} (${n} to mark)` : a.title };
      }),
    BY_VALUE,
  );

  constructor() {
    effect(() => {
      const [order, id] = [this.order(), this.list.assessment()];
      // Another order by name.
      this.hidden();
      if (this.ready()) untracked(() => this.sequence.set(ordered(this.rows(), order, id).map((r) => r.enrolment)));
    });
  }

  setOrder(order: Order): void {
    this.order.set(order);
    keepOrder(order);
  }

  /** Everybody is listed again. */
  endWalk(): void {
    this.walks.begin(null);
  }

  /** With whom one begins: the first that waits. */
  first(): ArrivalRow | null {
    return (this.walk() ? this.shown()[0] : (nextWaiting(this.everybody(), '') ?? this.everybody()[0])) ?? null;
  }

  /** Who waits after the one that is looked at. */
  next(): ArrivalRow | null {
    return nextWaiting(this.everybody(), this.chosen()) ?? null;
  }

  /** Who is listed so many places further. */
  beside(by: number): ArrivalRow | null {
    const rows = this.shown();
    const at = rows.findIndex((r) => r.enrolment === this.chosen());
    return rows[Math.max(0, Math.min(rows.length - 1, at + by))] ?? null;
  }

  /** Who comes after in a walk; null: that was the last. */
  nextOfWalk(): ArrivalRow | null {
    const rows = this.shown();
    return rows[rows.findIndex((r) => r.enrolment === this.chosen()) + 1] ?? null;
  }
}
