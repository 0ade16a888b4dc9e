import { computed, inject, Injectable } from '@angular/core';
import { BookStore } from '../../../data/book';
import { Live } from '../../../data/live/live';
import { STANDING } from '../grid/geometry';
import { LedgerView } from './ledger-view';

/** Pixels that what is offered below a cell may need, and to its right. */
const BELOW = 190;
const BESIDE = 310;

/** What lies over the cells: the cursor, the selection, and where the others are. In pixels from the end of the names. */
@Injectable()
export class LedgerBoxes {
  private readonly view = inject(LedgerView);
  private readonly store = inject(BookStore);
  private readonly live = inject(Live);

  /** Near the foot of the window: what is offered stands above the line. */
  readonly upward = computed(
    () =>
      this.view.cursor().row * this.view.rowHeight() - this.view.scroll().top >
      this.view.room().height - this.view.headHeight() - BELOW,
  );
  /** Near the right end of the window: the line and what is offered go to the left. */
  readonly atEdge = computed(() => this.view.nameWidth() + this.cursor().left + BESIDE > this.view.room().width);
  readonly cursor = computed(() => {
    const { row, col } = this.view.cursor();
    return {
      top: this.topOf(row),
      left: this.leftOf(col),
      height: this.view.rowHeight(),
      width: col === this.view.columns() ? STANDING : this.view.columnWidth(),
    };
  });
  readonly selection = computed(() => {
    const { top, bottom, left, right } = this.view.selection();
    return {
      top: this.topOf(top),
      left: this.leftOf(left),
      height: (bottom - top + 1) * this.view.rowHeight(),
      width: (right - left + 1) * this.view.columnWidth(),
    };
  });
  /** Where the others are, among the rows and columns that are shown. */
  readonly others = computed(() =>
    this.live.people().flatMap((p) => {
      const s = p.enrolment === null ? undefined : this.store.studentIndex().get(p.enrolment);
      const row = s === undefined ? -1 : this.view.rows().indexOf(s);
      const col = p.assessment === null ? -1 : this.view.colOf(p.assessment);
      if (row < 0 || col < 0) return [];
      return [{ id: p.connection, name: p.name, top: this.topOf(row), left: this.leftOf(col) }];
    }),
  );

  private topOf(row: number): number {
    return this.view.headHeight() + row * this.view.rowHeight();
  }

  private leftOf(col: number): number {
    return col * this.view.columnWidth() - this.view.scroll().left;
  }
}
