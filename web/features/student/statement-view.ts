import { inDecimals, titlesWithPoints, withPoints } from '../../ui/text/locale';
import { ChangeDetectionStrategy, Component, computed, effect, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Decimals } from '../../ui/text/decimals';
import { parse } from '@core/exact/fraction';
import { shortText } from '@core/exact/rounding';
import { RangeBar } from '../../ui/chart/range-bar';
import { WorkingLines } from '../../ui/text/working-lines';
import { dayAndTime } from '../../ui/text/dates';
import type { StudentBook } from '@contract/statements';

/** What a student reads of one book. The same wherever it is looked at: by them, by staff, in a rehearsal. */
@Component({
  selector: 'lt-statement-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Decimals, RangeBar, RouterLink, WorkingLines],
  templateUrl: './statement-view.html',
  styleUrl: './statement-view.css',
})
export class StatementView {
  readonly page = input.required<StudentBook>();
  /** Its student looks at it: what can be handed in leads there. */
  readonly own = input(false);
  protected readonly chosen = signal<string | null>(null);
  protected readonly whole = signal(false);
  protected readonly work = computed(() => {
    const page = this.page();
    return (
      page.work.find((w) => w.id === this.chosen()) ??
      [...page.work].reverse().find((w) => w.score?.earned) ??
      page.work[0] ??
      null
    );
  });
  protected readonly bands = computed(() => (this.page().standing?.scale ?? []).map((b) => b.from));

  private readonly titles = effect(() => titlesWithPoints.set(withPoints(this.page().work.map((w) => w.title))));

  /** "17.5", from the exact fraction. */
  protected points(earned: string): string {
    const text = shortText(parse(earned));
    return inDecimals(text.includes('.') ? text : `${text}.0`);
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
