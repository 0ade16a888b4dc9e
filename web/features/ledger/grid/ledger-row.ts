import { inDecimals } from '../../../ui/text/locale';
import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { percentLine } from '../../../ui/chart/percent-line';
import { Decimals } from '../../../ui/text/decimals';
import type { Standing } from '../../../worker/protocol';
import { STANDING_BAR } from './geometry';
import type { RowView } from './ledger-rows';
import { LedgerView } from '../view/ledger-view';

/** Where a percent stands on the bar of a standing, in pixels. */
export const onBar = percentLine(STANDING_BAR.left, STANDING_BAR.left + STANDING_BAR.width);

/** One student's row. On its own, so that a score typed in one row checks none of the others. */
@Component({
  selector: 'lt-ledger-row',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Decimals],
  host: { role: 'row', '[attr.aria-rowindex]': 'row().row + 3', '[style.top.px]': 'row().top' },
  template: `
    <div class="name" role="rowheader" aria-colindex="1" [attr.title]="row().name">
      <b>{{ row().name }}</b><small>{{ row().section }}</small>
    </div>
    <span class="pad"></span>
    @for (c of row().cells; track c.slot) {
      <div
        role="gridcell"
        [attr.id]="c.col === active() ? idOf(c.col) : null"
        [attr.aria-colindex]="c.col + 2"
        [attr.aria-selected]="c.col >= from() && c.col <= to() ? true : null"
        [attr.aria-label]="c.words"
        [class]="c.look"
        [style.order]="c.col"
      >
        @if (c.taken) {
          <i>{{ c.taken }}</i>
        }
        {{ c.text }}
      </div>
    }
    <div
      class="standing"
      role="gridcell"
      [attr.id]="active() === view.columns() ? idOf(view.columns()) : null"
      [attr.aria-colindex]="view.columns() + 2"
      [attr.aria-selected]="active() === view.columns() ? true : null"
      [attr.aria-label]="words(row().standing)"
    >
      @if (row().standing; as s) {
        <i class="span" [style.left.px]="begins(s)" [style.width.px]="reach(s)"></i>
        @if (s.at === s.at) {
          <i class="point" [style.left.px]="x(s.at) - 1.5"></i>
        }
        <b class="mono" [attr.title]="s.shown === null ? null : (s.percent | decimals) + ' %'">{{
          (s.shown ?? s.percent | decimals) || '–'
        }}</b>
        <strong>{{ s.letter ?? '' }}</strong>
      }
    </div>
  `,
  styleUrl: './ledger-row.css',
})
export class LedgerRow {
  readonly row = input.required<RowView>();
  /** The cursor's column where it is in this row, or −1. */
  readonly active = input(-1);
  /** The first and last selected column in this row; the last below the first where there is none. */
  readonly from = input(0);
  readonly to = input(-1);
  protected readonly view = inject(LedgerView);
  protected readonly x = onBar;

  /** Only the active cell has an id: the grid names it. */
  protected idOf(col: number): string {
    return `cell-${this.row().row}-${col}`;
  }

  protected begins(s: Standing): number {
    return Number.isNaN(s.lowAt) || Number.isNaN(s.highAt) ? 0 : this.x(Math.min(s.lowAt, s.highAt));
  }

  protected reach(s: Standing): number {
    return Number.isNaN(s.lowAt) || Number.isNaN(s.highAt) ? 0 : Math.abs(this.x(s.highAt) - this.x(s.lowAt));
  }

  protected words(s: Standing | undefined): string {
    if (!s) return 'being worked out';
    if (s.percent === null) return 'no grade yet';
    const shown = s.shown === null ? '' : `, shown as ${inDecimals(s.shown)}`;
    return `${inDecimals(s.percent)} percent${shown}${s.letter ? `, ${s.letter}` : ''}, from ${inDecimals(s.low ?? '')} to ${inDecimals(s.high ?? '')}`;
  }
}
