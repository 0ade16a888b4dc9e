import type { Spot } from '../view/ledger-view';

/** The cell of the grid under the pointer; null where it is over none. */
export function spotOf(event: Pick<MouseEvent, 'target'>): Spot | null {
  const cell = (event.target as HTMLElement).closest('[role=gridcell]:not(lt-cell-editor)');
  const row = cell?.closest('[role=row]');
  if (!cell || !row) return null;
  // Counted from 1, after two rows of heads and the column of names.
  return { row: Number(row.getAttribute('aria-rowindex')) - 3, col: Number(cell.getAttribute('aria-colindex')) - 2 };
}

/** The column whose title is under the pointer, pressed with the first button; null where it is over none. */
export function headOf(event: Pick<MouseEvent, 'target' | 'button'>): number | null {
  const title = (event.target as HTMLElement).closest('.title[role=columnheader]');
  return event.button === 0 && title ? Number(title.getAttribute('aria-colindex')) - 2 : null;
}

/** What the pointer selects: pressed on a cell, then dragged over others. */
export class GridPointer {
  private dragging = false;

  /** The cell that was pressed; null where it was none, or not with the first button. */
  press(event: MouseEvent): Spot | null {
    const spot = event.button === 0 ? spotOf(event) : null;
    this.dragging = spot !== null;
    return spot;
  }

  /** Another cell than `now` that a press has been dragged to. A button let go outside the grid ends it. */
  drag(event: MouseEvent, now: Spot): Spot | null {
    if (!this.dragging) return null;
    if ((event.buttons & 1) === 0) {
      this.dragging = false;
      return null;
    }
    const spot = spotOf(event);
    return spot && (spot.row !== now.row || spot.col !== now.col) ? spot : null;
  }

  release(): void {
    this.dragging = false;
  }
}
