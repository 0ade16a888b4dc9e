import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { scaleLinear } from 'd3';
import type { Standing } from '../workers/protocol';
import { STANDING_BAR } from './geometry';
import { LedgerView } from './ledger-view';

/**
 * The rows in view. Rows and cells keep their elements while they stay in view (tracked by slot); those that leave
 * take on what comes in. On its own, so that typing in the editor checks none of it.
 */
@Component({
  selector: 'lt-ledger-body',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: {
    role: 'rowgroup',
    '[style.--column]': "view.columnWidth() + 'px'",
    '[style.--name]': "view.nameWidth() + 'px'",
    '[style.--before]': "view.before() + 'px'",
    '[style.--edges]': 'edges()',
  },
  template: `
    @for (r of view.body(); track r.slot) {
      <div
        role="row"
        [class]="r.row === view.cursor().row ? r.look + ' here' : r.look"
        [attr.aria-rowindex]="r.row + 3"
        [style.top.px]="r.top"
        [style.width.px]="view.bodyWidth()"
      >
        <div class="name" role="rowheader" aria-colindex="1" [attr.title]="r.name">
          <b>{{ r.name }}</b><small>{{ r.section }}</small>
        </div>
        <span class="pad"></span>
        @for (c of r.cells; track c.slot) {
          <div
            role="gridcell"
            [attr.id]="isActive(r.row, c.col) ? active() : null"
            [attr.aria-colindex]="c.col + 2"
            [attr.aria-selected]="isActive(r.row, c.col) ? true : null"
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
          [attr.id]="isActive(r.row, view.columns()) ? active() : null"
          [attr.aria-colindex]="view.columns() + 2"
          [attr.aria-selected]="isActive(r.row, view.columns()) ? true : null"
          [attr.aria-label]="words(r.standing)"
        >
          @if (r.standing; as s) {
            <i class="span" [style.left.px]="from(s)" [style.width.px]="reach(s)"></i>
            @if (s.at === s.at) {
              <i class="point" [style.left.px]="x(s.at) - 1.5"></i>
            }
            <b class="mono">{{ s.percent ?? '–' }}</b>
            <strong>{{ s.letter ?? '' }}</strong>
          }
        </div>
      </div>
    }
  `,
  styleUrl: './ledger-body.css',
})
export class LedgerBody {
  protected readonly view = inject(LedgerView);
  protected readonly active = computed(() => `cell-${this.view.cursor().row}-${this.view.cursor().col}`);
  protected readonly x = scaleLinear([20, 105], [STANDING_BAR.left, STANDING_BAR.left + STANDING_BAR.width]).clamp(
    true,
  );
  /** Where letters begin, as one background for every row. */
  protected readonly edges = computed(
    () =>
      this.view
        .bands()
        .filter((b) => b > 20)
        .map((b) => `linear-gradient(var(--rule) 0 0) ${Math.round(this.x(b))}px 9px / 1px 8px no-repeat`)
        .join(', ') || 'none',
  );

  /** Only the active cell has an id: the grid names it. */
  protected isActive(row: number, col: number): boolean {
    const cursor = this.view.cursor();
    return cursor.row === row && cursor.col === col;
  }

  protected from(s: Standing): number {
    return Number.isNaN(s.lowAt) || Number.isNaN(s.highAt) ? 0 : this.x(Math.min(s.lowAt, s.highAt));
  }

  protected reach(s: Standing): number {
    return Number.isNaN(s.lowAt) || Number.isNaN(s.highAt) ? 0 : Math.abs(this.x(s.highAt) - this.x(s.lowAt));
  }

  protected words(s: Standing | undefined): string {
    if (!s) return 'being worked out';
    if (s.percent === null) return 'no grade yet';
    return `${s.percent} percent${s.letter ? `, ${s.letter}` : ''}, from ${s.low} to ${s.high}`;
  }
}
