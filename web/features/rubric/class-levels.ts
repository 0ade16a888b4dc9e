import { ChangeDetectionStrategy, Component, computed, effect, inject, input } from '@angular/core';
import { csvText } from '@core/export/csv';
import { levelTable, rubricStatistics } from '@core/rubric/given-levels';
import { givenScore } from '@core/rubric/score-change';
import { BookStore } from '../../data/book';
import { LevelDrafts } from '../../data/work/level-drafts';
import { fileName, save } from '../../ui/chart/picture-file';
import { inDecimals } from '../../ui/text/locale';

/** What the class was given by a rubric: how many reached which level, the mean, and a file of it. */
@Component({
  selector: 'lt-class-levels',
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [LevelDrafts],
  template: `
    @if (statistics().length > 0 && marked() > 0) {
      <h2>What was given</h2>
      <p class="quiet">{{ marked() }} of {{ students().length }} marked by it</p>
      <ul>
        @for (s of statistics(); track s.criterion.id) {
          <li>
            <p>
              <span class="title">{{ s.criterion.title }}</span>
              @if (s.mean !== null) {
                <span class="mono">{{ s.mean }}</span>
              }
            </p>
            <p class="bars" role="img" [attr.aria-label]="s.said">
              @for (b of s.bars; track b.level) {
                <span class="bar" aria-hidden="true">
                  <span class="count">{{ b.count || '' }}</span>
                  <span class="stick" [style.height.px]="b.height"></span>
                  <span class="level">{{ b.level || '<1' }}</span>
                </span>
              }
            </p>
          </li>
        }
      </ul>
      <p><button type="button" class="word" (click)="saveCsv()">Save everybody’s levels as CSV</button></p>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    ul {
      list-style: none;
      margin: 8px 0;
      padding: 0;
      display: grid;
      gap: 12px;
    }
    p {
      margin: 0;
    }
    li p:first-child {
      display: flex;
      gap: 10px;
      justify-content: space-between;
    }
    .title {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .bars {
      display: flex;
      gap: 6px;
      align-items: flex-end;
      height: 62px;
    }
    .bar {
      flex: 1;
      display: grid;
      justify-items: center;
      font-size: 12px;
      line-height: 15px;
    }
    .stick {
      width: 100%;
      background: var(--ink);
      min-height: 1px;
    }
    .count,
    .level {
      color: var(--pencil);
      min-height: 15px;
    }
  `,
})
export class ClassLevels {
  readonly assessment = input.required<string>();
  private readonly store = inject(BookStore);
  private readonly drafts = inject(LevelDrafts);

  constructor() {
    effect(() => this.drafts.assessment.set(this.assessment()));
  }

  protected readonly students = computed(() => (this.store.page()?.students ?? []).filter((s) => !s.left));
  private readonly marks = computed(() =>
    this.students().map((s) => this.drafts.marks(s.id, this.drafts.workOf(s.id))),
  );
  protected readonly marked = computed(() => this.marks().filter((m) => Object.keys(m).length > 0).length);
  protected readonly statistics = computed(() => {
    const rubric = this.drafts.rubric();
    if (!rubric) return [];
    return rubricStatistics(rubric, this.marks()).map((s) => {
      const most = Math.max(1, ...s.counts);
      const below = s.counts[0]! > 0 ? 0 : 1;
      const bars = s.counts.map((count, level) => ({ level, count, height: (30 * count) / most })).slice(below);
      const said = bars.map((b) => `${b.level === 0 ? 'below level 1' : `level ${b.level}`}: ${b.count}`).join(', ');
      return { ...s, mean: s.mean === null ? null : `mean ${inDecimals(String(s.mean))}`, bars, said };
    });
  });

  /** Scores by criterion, a student in each row. */
  protected saveCsv(): void {
    const [rubric, item] = [this.drafts.rubric(), this.store.assessments().get(this.assessment())];
    if (!rubric || !item) return;
    const cells = this.store.cells();
    const rows = this.students().map((s) => {
      const marks = this.drafts.marks(s.id, this.drafts.workOf(s.id));
      const at = this.store.atCell(s.id, item.id);
      const marked = cells && !Number.isNaN(at) ? cells.marked[at]! : NaN;
      return {
        ...{ number: s.number, family: s.family, given: s.given },
        section: this.store.sections().get(s.section ?? '') ?? '',
        ...{ marks, sum: givenScore(rubric, marks, item.points) },
        score: Number.isNaN(marked) ? '' : String(Math.round(marked) / 10_000),
      };
    });
    const text = csvText(levelTable(rubric, rows));
    save(fileName(`Levels ${item.title}`, 'csv'), new Blob([text], { type: 'text/csv' }));
  }
}
