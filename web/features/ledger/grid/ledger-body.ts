import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { LedgerRow, onBar } from './ledger-row';
import { LedgerRows } from './ledger-rows';
import { LedgerView } from '../view/ledger-view';

/**
 * The rows in view. Rows and cells keep their elements while they stay in view (tracked by slot); those that leave
 * take on what comes in. On its own, so that typing in the editor checks none of it.
 */
@Component({
  selector: 'lt-ledger-body',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [LedgerRow],
  host: {
    role: 'rowgroup',
    '[style.--column]': "view.columnWidth() + 'px'",
    '[style.--before]': "view.before() + 'px'",
    '[style.--row]': "view.rowHeight() + 'px'",
    '[style.--edges]': 'edges()',
  },
  template: `
    @for (r of rows.body(); track r.slot) {
      <lt-ledger-row
        [class]="r.row === view.cursor().row ? r.look + ' here' : r.look"
        [row]="r"
        [active]="r.row === view.cursor().row ? view.cursor().col : -1"
        [from]="isSelected(r.row) ? view.selection().left : 0"
        [to]="isSelected(r.row) ? view.selection().right : -1"
      />
    }
  `,
})
export class LedgerBody {
  protected readonly view = inject(LedgerView);
  protected readonly rows = inject(LedgerRows);
  /** Where letters begin, as one background for every row. */
  protected readonly edges = computed(
    () =>
      this.view
        .bands()
        .filter((b) => b > 20)
        .map((b) => `linear-gradient(var(--rule) 0 0) ${Math.round(onBar(b))}px 9px / 1px 8px no-repeat`)
        .join(', ') || 'none',
  );

  protected isSelected(row: number): boolean {
    const { top, bottom } = this.view.selection();
    return row >= top && row <= bottom;
  }
}
