import { computed, DestroyRef, effect, inject, Injectable, resource, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { filter } from 'rxjs';
import type { CriterionMark, RubricMarks } from '@core/rubric/document';
import type { CriterionMarkState, LevelDraft, Marking } from '@contract/work/marking';
import { Api, messageOf } from '../api';
import { BookStore } from '../book';
import { LiveStream } from '../live/live-stream';
import { Outbox } from '../outbox/outbox';
import type { PendingLevels } from '../outbox/pending-writes';

/** More students than this at once are asked for with everybody else. */
const MANY = 6;
/** Milliseconds that news are gathered: those of one change come together. */
const GATHERED = 10;
const NO_MARKS: readonly CriterionMarkState[] = [];
const draftKey = (d: { enrolment: string; work: string }): string => `${d.enrolment} ${d.work}`;

/** Of what is known and what is told each criterion as its later version has it. */
export function laterMarks(
  known: readonly CriterionMarkState[],
  told: readonly CriterionMarkState[],
): CriterionMarkState[] {
  const all = new Map(known.map((m) => [m.criterion, m]));
  for (const m of told) if (m.version >= (all.get(m.criterion)?.version ?? 0)) all.set(m.criterion, m);
  return [...all.values()];
}

/**
 * What was answered for everybody, with what came here later than it: an answer may have been overtaken. Work that it does
 * not name has nothing any more, unless something was put there (`isPutSince`) after it was asked for.
 */
export function laterDrafts(before: Marking, answered: Marking, isPutSince: (draft: LevelDraft) => boolean): Marking {
  if (before.rubric.version !== answered.rubric.version) return answered;
  const drafts = new Map(answered.drafts.map((d) => [draftKey(d), d]));
  for (const d of before.drafts) {
    const now = drafts.get(draftKey(d));
    if (now) drafts.set(draftKey(d), { ...now, marks: laterMarks(now.marks, d.marks) });
    else if (isPutSince(d)) drafts.set(draftKey(d), d);
  }
  return { ...answered, drafts: [...drafts.values()] };
}

/** Marks with others given over them, in their order; null takes one back. */
export function withMarks(
  before: RubricMarks,
  marks: readonly { criterion: string; mark: CriterionMark | null }[],
): RubricMarks {
  const after: Record<string, CriterionMark> = { ...before };
  for (const m of marks) {
    if (m.mark === null) delete after[m.criterion];
    else after[m.criterion] = m.mark;
  }
  return after;
}

/** What the work for one assessment of the open book was given, by its rubric; it follows by itself. For one page. */
@Injectable()
export class LevelDrafts {
  private readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly outbox = inject(Outbox);
  /** Which assessment; '' none yet. */
  readonly assessment = signal('');
  private readonly place = computed(() =>
    this.store.id() && this.assessment()
      ? `/books/${this.store.id()}/assessments/${this.assessment()}/marking`
      : undefined,
  );
  private readonly loaded = resource({
    params: () => this.place(),
    loader: async ({ params }) => {
      const from = this.puts;
      return { of: params, from, marking: await this.api.get<Marking>(params) };
    },
  });
  /** How often something was put here, and of each piece of work, when last. */
  private puts = 0;
  private readonly putAt = new Map<string, number>();
  private readonly last = signal<{ of: string; marking: Marking } | null>(null);
  private readonly now = computed(() => (this.last()?.of === this.place() ? (this.last()?.marking ?? null) : null));
  readonly isThere = computed(() => this.now() !== null);
  readonly problem = computed(() => (this.loaded.error() ? messageOf(this.loaded.error()) : ''));
  /** What was given is known, or why it is not. */
  readonly isAnswered = computed(() => this.isThere() || this.problem() !== '');
  readonly version = computed(() => this.now()?.rubric.version ?? 0);
  readonly rubric = computed(() => this.now()?.rubric.rubric ?? null);
  private readonly works = computed(() => new Map((this.now()?.works ?? []).map((w) => [w.enrolment, w.work])));
  private readonly drafts = computed(() => new Map((this.now()?.drafts ?? []).map((d) => [draftKey(d), d])));

  constructor() {
    inject(DestroyRef).onDestroy(() => clearTimeout(this.timer));
    effect(() => {
      const value = this.loaded.hasValue() ? this.loaded.value() : undefined;
      if (value) untracked(() => this.take(value));
    });
    this.outbox.drafts.pipe(takeUntilDestroyed()).subscribe(({ book, draft }) => {
      if (book === this.store.id() && draft.assessment === this.assessment()) this.putDraft(draft);
    });
    inject(LiveStream)
      .events.pipe(
        filter((e) => e.book === this.store.id()),
        takeUntilDestroyed(),
      )
      .subscribe((e) => {
        if (e.kind === 'marking') this.heardOf(e.places);
        else if (e.kind === 'cells') this.heardOf(e.cells);
        // What was given between the answer and the first that is told would be missed.
        else if (e.kind === 'beside' || e.kind === 'book' || e.kind === 'hello') this.loaded.reload();
      });
  }

  /** The piece of work that a score of a student is for now. */
  workOf(enrolment: string): string {
    return this.works().get(enrolment) ?? '';
  }

  /** What the server keeps of one piece of work, criterion by criterion. */
  kept(enrolment: string, work: string): readonly CriterionMarkState[] {
    return this.drafts().get(draftKey({ enrolment, work }))?.marks ?? NO_MARKS;
  }

  /** What one piece of work is given, with what is not kept yet. */
  marks(enrolment: string, work: string): RubricMarks {
    const waiting = this.waiting(enrolment, work).flatMap((levels) => levels.marks);
    return withMarks({}, [...this.kept(enrolment, work), ...waiting]);
  }

  /** What was given here and is not kept yet. */
  waiting(enrolment: string, work: string): PendingLevels[] {
    return this.outbox.levelsOf(enrolment, this.assessment(), work);
  }

  private take({ of, from, marking }: { of: string; from: number; marking: Marking }): void {
    const before = this.last();
    const isPutSince = (d: LevelDraft): boolean => this.isPutSince(from, d);
    this.last.set({ of, marking: before?.of === of ? laterDrafts(before.marking, marking, isPutSince) : marking });
  }

  private isPutSince(from: number, draft: LevelDraft): boolean {
    return (this.putAt.get(draftKey(draft)) ?? 0) > from;
  }

  private putDraft(draft: LevelDraft): void {
    const last = this.last();
    if (!last || last.of !== this.place()) return;
    if (draft.rubric !== last.marking.rubric.version) return void this.loaded.reload();
    const before = this.kept(draft.enrolment, draft.work);
    const next = { ...draft, marks: laterMarks(before, draft.marks) };
    this.putAt.set(draftKey(draft), ++this.puts);
    const others = last.marking.drafts.filter((d) => draftKey(d) !== draftKey(draft));
    this.last.set({ ...last, marking: { ...last.marking, drafts: [...others, next] } });
  }

  private heardOf(places: readonly { assessment: string; enrolment: string }[]): void {
    const students = new Set(places.filter((p) => p.assessment === this.assessment()).map((p) => p.enrolment));
    if (students.size > MANY) return void this.loaded.reload();
    for (const enrolment of students) this.told.add(enrolment);
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.fetchTold(), GATHERED);
  }

  /** A level is told as a level and as a score: it is asked for once. */
  private readonly told = new Set<string>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private fetchTold(): void {
    for (const enrolment of this.told) this.fetchOne(enrolment).catch(() => this.loaded.reload());
    this.told.clear();
  }

  /** Asks anew what one student's work was given: what others give is told a moment after the score that follows. */
  refresh(enrolment: string): Promise<void> {
    return this.fetchOne(enrolment);
  }

  private async fetchOne(enrolment: string): Promise<void> {
    const of = this.place();
    if (of === undefined) return;
    const from = this.puts;
    const one = await this.api.get<Marking>(`${of}?enrolment=${encodeURIComponent(enrolment)}`);
    const last = this.last();
    if (!last || last.of !== of) return;
    if (one.rubric.version !== last.marking.rubric.version) return void this.loaded.reload();
    const works = [...last.marking.works.filter((w) => w.enrolment !== enrolment), ...one.works];
    const named = new Set(one.drafts.map(draftKey));
    const drafts = last.marking.drafts.filter(
      (d) => d.enrolment !== enrolment || named.has(draftKey(d)) || this.isPutSince(from, d),
    );
    this.last.set({ ...last, marking: { ...last.marking, works, drafts } });
    for (const draft of one.drafts) this.putDraft(draft);
  }
}
