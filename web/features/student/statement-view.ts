import { titlesWithPoints, withPoints } from '../../ui/text/locale';
import { ChangeDetectionStrategy, Component, computed, effect, input, linkedSignal, output, signal } from '@angular/core'; // prettier-ignore
import { Decimals } from '../../ui/text/decimals';
import { RangeBar } from '../../ui/chart/range-bar';
import { WhatNeeded } from './what-needed';
import { SlipView } from './slip/slip-view';
import { pointsText } from './slip/sum-line';
import { WorkingLines } from '../../ui/text/working-lines';
import { dayAndTime } from '../../ui/text/dates';
import type { StudentBook } from '@contract/statements';

/** What a student reads of one book. The same wherever it is looked at: by them, by staff, in a rehearsal. */
@Component({
  selector: 'lt-statement-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Decimals, RangeBar, SlipView, WhatNeeded, WorkingLines],
  templateUrl: './statement-view.html',
  styleUrl: './statement-view.css',
})
export class StatementView {
  readonly page = input.required<StudentBook>();
  /** Whose it is, for the paper that it is printed on. */
  readonly name = input.required<string>();
  /** Its student looks at it: what can be handed in leads there. */
  readonly own = input(false);
  /** Staff look as this student; null: nobody does, or a made-up one. */
  readonly enrolment = input<string | null>(null);
  /** Whose slip is open; null: what came back last, that was not opened yet. */
  readonly slip = input<string | null>(null);
  /** Another one was chosen. */
  readonly chosen = output<string>();
  private readonly picked = linkedSignal(() => this.slip());
  /** Slips that were opened since the page was fetched. */
  protected readonly opened = signal<ReadonlySet<string>>(new Set());
  /** What came back last of all that was not opened yet, as it was when the page came. */
  private readonly newest = computed(
    () =>
      this.page()
        .work.filter((w) => w.fresh)
        .toSorted((a, b) => (a.score?.releasedAt ?? '').localeCompare(b.score?.releasedAt ?? ''))
        .at(-1) ?? null,
  );
  protected readonly whole = signal(false);
  protected readonly work = computed(() => {
    const page = this.page();
    return (
      page.work.find((w) => w.id === this.picked()) ??
      this.newest() ??
      [...page.work].reverse().find((w) => w.score?.earned) ??
      page.work[0] ??
      null
    );
  });

  private readonly titles = effect(() => titlesWithPoints.set(withPoints(this.page().work.map((w) => w.title))));

  protected readonly points = pointsText;

  protected choose(id: string): void {
    this.picked.set(id);
    this.chosen.emit(id);
  }

  protected read(id: string): void {
    this.opened.update((was) => new Set(was).add(id));
  }

  protected readonly anyNew = computed(() => this.page().work.some((w) => this.isNew(w)));

  protected isNew(w: StudentBook['work'][number]): boolean {
    return w.fresh && !this.opened().has(w.id);
  }

  protected at(moment: string): string {
    return dayAndTime(moment, this.page().timeZone);
  }

  protected number(text: string | null): number {
    return text === null ? NaN : Number(text);
  }

  /** What stands for the score where there is none, in the student's words (states.md). */
  protected stateWord(w: StudentBook['work'][number]): string {
    if (w.score) {
      if (w.state === 'excused') return 'excused, does not count';
      if (w.state === 'missing') return 'missing';
      if (w.state === 'pending') return 'handed in, waits to be marked';
      if (w.state === 'awaiting') return 'awaited';
      if (w.score.earned === null) return 'nothing yet';
      return '';
    }
    if (w.state === 'excused') return 'excused, does not count';
    if (w.state === 'handed-in') return 'handed in, waits to be marked';
    if (w.state === 'missing') return 'missing';
    if (!w.due) return 'awaited';
    return this.dueWords(w.due);
  }

  protected dueWords(due: string): string {
    return `${due < this.page().asOf ? 'was due' : 'due'} ${this.at(due)}`;
  }
}
