import { effect, inject, Injectable, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { auditTime, filter, merge } from 'rxjs';
import { topOf } from '@core/rubric/check-rubric';
import type { Criterion, CriterionMark } from '@core/rubric/document';
import { levelReached } from '@core/rubric/levels';
import type { Marking } from '@contract/work/marking';
import { Api, messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import { LiveStream } from '../../../data/live/live-stream';
import { Outbox } from '../../../data/outbox/outbox';
import { StatusBar } from '../../../ui/layout/status-bar';
import { points, type CellView } from '../../../ui/text/cell-view';

/** Milliseconds that news of levels are gathered before they are asked for again. */
const GATHERED = 1_000;
const NONE: readonly string[] = [];

/** Of one assessment: its criteria, and what the work that each student's score is for was given. */
interface Given {
  book: string;
  criteria: readonly Criterion[];
  marks: ReadonlyMap<string, ReadonlyMap<string, CriterionMark>>;
}

function givenIn(book: string, { rubric, works, drafts }: Marking): Given {
  const inHand = new Map(works.map((w) => [w.enrolment, w.work]));
  return {
    book,
    criteria: rubric.rubric?.criteria ?? [],
    marks: new Map(
      drafts
        .filter((d) => inHand.get(d.enrolment) === d.work)
        .map((d) => [d.enrolment, new Map(d.marks.flatMap((m) => (m.mark === null ? [] : [[m.criterion, m.mark]])))]),
    ),
  };
}

/** Scores by criterion as columns of the ledger: read and counted there, given in the marking room. For one page. */
@Injectable()
export class CriteriaColumns {
  private readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  /** Of which assessments. */
  readonly shown = signal<readonly string[]>([]);
  /** Whoever shows them keeps what one looks at in its place while columns come and go. */
  around: (put: () => void) => void = (put) => put();
  private asked = 0;
  private readonly answered = new Map<string, number>();
  private readonly given = signal<ReadonlyMap<string, Given>>(new Map());
  /** Another one each time that something was given. */
  readonly stamp = this.given.asReadonly();

  constructor() {
    effect(() => {
      const [book, shown] = [this.store.id(), this.shown()];
      if (book === '') return;
      untracked(() => {
        for (const id of shown) if (!this.givenOf(id)) this.load(id);
      });
    });
    const told = inject(LiveStream).events.pipe(
      filter((e) => e.kind === 'marking' || e.kind === 'book' || (e.kind === 'beside' && e.what.includes('rubric'))),
    );
    merge(told, inject(Outbox).drafts)
      .pipe(
        filter((e) => e.book === this.store.id()),
        auditTime(GATHERED),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.shown().forEach((id) => this.load(id)));
  }

  /** Of the open book: another one may have an assessment of that id too. */
  private givenOf(assessment: string): Given | undefined {
    const given = this.given().get(assessment);
    return given?.book === this.store.id() ? given : undefined;
  }

  private load(assessment: string): void {
    const book = this.store.id();
    const asked = ++this.asked;
    this.api
      .get<Marking>(`/books/${encodeURIComponent(book)}/assessments/${encodeURIComponent(assessment)}/marking`)
      .then((marking) => {
        // An answer that was overtaken says nothing new.
        if (this.store.id() !== book || asked < (this.answered.get(assessment) ?? 0)) return;
        this.answered.set(assessment, asked);
        this.around(() => this.given.update((all) => new Map(all).set(assessment, givenIn(book, marking))));
      })
      .catch((error: unknown) => {
        const title = this.store.assessments().get(assessment)?.title ?? '';
        this.statusBar.announce(`The criteria of ${title} are not here: ${messageOf(error)}`, 'trouble');
      });
  }

  /** The criteria of an assessment in their order, as far as they are shown. */
  of(assessment: string): readonly string[] {
    // What the book was at an earlier line says nothing of levels.
    if (!this.shown().includes(assessment) || this.store.stood() !== null) return NONE;
    return this.givenOf(assessment)?.criteria.map((c) => c.id) ?? NONE;
  }

  criterion(assessment: string, id: string): Criterion | undefined {
    return this.givenOf(assessment)?.criteria.find((c) => c.id === id);
  }

  /** What a student was given; undefined: nothing yet. */
  mark(assessment: string, criterion: string, student: string): CriterionMark | undefined {
    return this.givenOf(assessment)?.marks.get(student)?.get(criterion);
  }

  /** As text for other programs: with a point, or "left out". */
  text(assessment: string, criterion: string, student: string): string {
    const mark = this.mark(assessment, criterion, student);
    return mark === undefined ? '' : 'leftOut' in mark ? 'left out' : String(mark.points);
  }

  /** As it is drawn, the level's words with it. */
  cell(assessment: string, criterion: string, student: string): CellView {
    const [c, mark] = [this.criterion(assessment, criterion), this.mark(assessment, criterion, student)];
    if (!c || mark === undefined) return { text: '', taken: '', look: 'cell level', words: 'not given yet' };
    if ('leftOut' in mark) return { text: 'out', taken: '', look: 'cell level quiet', words: 'left out' };
    const { level, past } = levelReached(c, mark.points);
    const words = level === 0 ? '' : (c.levels[level - 1]?.words ?? '');
    const said = `${points(mark.points * 100)} of ${topOf(c)}${words && !past ? `, ${words}` : ''}`;
    return { text: points(mark.points * 100), taken: '', look: 'cell level score', words: said };
  }
}
