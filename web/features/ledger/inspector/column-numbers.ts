import { inDecimals } from '../../../ui/text/locale';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { spreadOf } from '@core/statistics/spread';
import { TICKS } from '@core/statistics/ticks';
import { points } from '../../../ui/text/cell-view';
import { SpreadPicture } from '../../../ui/chart/spread-picture';
import { ticksInWords } from '../../../ui/chart/tick-rail';
import { ColumnDialog } from './column-dialog';
import { LedgerRows } from '../grid/ledger-rows';
import { LedgerView } from '../view/ledger-view';
import { type Subject, fullOf, titleOfSubject, pointsOf, percentsOf } from './column-subject';

/** The numbers of a column over the students that are listed, and their spread as a picture. */
@Component({
  selector: 'lt-column-numbers',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SpreadPicture, ColumnDialog],
  template: `
    <h2>{{ title() }}</h2>
    <p class="quiet">{{ about() }}</p>
    @if (spread(); as s) {
      <button type="button" class="picture" (click)="large.set(true)" title="larger, to copy or save">
        <lt-spread-picture
          [values]="percents()"
          [edges]="edges()"
          [mark]="spreadPercent()?.mean ?? null"
          [title]="title()"
        />
      </button>
      <table class="plain">
        @for (line of lines(); track line.message) {
          <tr>
            <td>{{ line.message }}</td>
            <td class="right mono">{{ line.value }}</td>
            <td class="right mono quiet">{{ line.percent }}</td>
          </tr>
        }
      </table>
      <button type="button" class="word" (click)="large.set(true)">larger, or beside another</button>
      @defer (when large(); prefetch on timer(2s)) {
        <lt-column-dialog [subject]="subject()" [visible]="large()" (left)="large.set(false)" />
      }
    } @else {
      <p>Nothing here counts yet.</p>
    }
    @if (states()) {
      <p class="states">{{ states() }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      justify-items: start;
    }
    .picture {
      border: 0;
      background: none;
      padding: 4px 0;
      width: 100%;
      cursor: zoom-in;
    }
    .picture:hover {
      background: var(--paper);
    }
    .states {
      color: var(--pencil);
    }
    .right {
      white-space: nowrap;
    }
    h2 {
      overflow-wrap: anywhere;
    }
  `,
})
export class ColumnNumbers {
  readonly subject = input.required<Subject>();
  protected readonly view = inject(LedgerView);
  private readonly rows = inject(LedgerRows);
  protected readonly large = signal(false);

  protected readonly title = computed(() => titleOfSubject(this.view, this.subject()));
  protected readonly edges = computed(() => this.view.scale());
  protected readonly percents = computed(() => percentsOf(this.view, this.subject()));
  private readonly full = computed(() => fullOf(this.view, this.subject()));
  protected readonly spreadPercent = computed(() => spreadOf(this.percents()));
  protected readonly spread = computed(() => {
    const percent = this.spreadPercent();
    return this.full() === 0 ? percent : spreadOf(pointsOf(this.view, this.subject()));
  });
  protected readonly about = computed(() => {
    const n = this.spread()?.count ?? 0;
    const all = this.view.rows().length;
    return `${n} of the ${all} listed${this.full() > 0 ? ` · of ${this.full()}` : ' · in percent'}`;
  });
  protected readonly lines = computed(() => {
    const s = this.spread()!;
    const full = this.full();
    const line = (message: string, value: number) => ({
      message,
      value: points(Math.round(value * 100)),
      percent: full > 0 ? inDecimals(`${((100 * value) / full).toFixed(1)} %`) : '',
    });
    return [
      line('mean', s.mean),
      line('median', s.median),
      line('lower quartile', s.lowerQuartile),
      line('upper quartile', s.upperQuartile),
      line('spread', s.deviation),
      line('least', s.least),
      line('most', s.most),
    ];
  });
  protected readonly states = computed(() => {
    this.view.store.revision();
    const { kind, id } = this.subject();
    const item = this.view.store.itemIndex().get(id);
    if (kind !== 'item' || item === undefined) return '';
    const ticks = this.rows.ticks(item);
    return TICKS.some((t) => ticks[t] > 0) ? ticksInWords(ticks) : '';
  });
}
