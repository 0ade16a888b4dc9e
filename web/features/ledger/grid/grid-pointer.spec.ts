import { describe, expect, it } from 'vitest';
import { GridPointer } from './grid-pointer';

/** A row with the names and three cells, as the grid draws the second student. */
function row(): { cells: HTMLElement[]; name: HTMLElement } {
  const host = document.createElement('div');
  host.innerHTML = `<div role="row" aria-rowindex="4"><div role="rowheader">Birch</div>${[2, 3, 4]
    .map((n) => `<div role="gridcell" aria-colindex="${n}"><i>−2</i>14</div>`)
    .join('')}</div>`;
  return {
    cells: [...host.querySelectorAll<HTMLElement>('[role=gridcell]')],
    name: host.querySelector<HTMLElement>('[role=rowheader]')!,
  };
}
const at = (target: HTMLElement, more: object = {}): MouseEvent =>
  ({ target, button: 0, buttons: 1, ...more }) as unknown as MouseEvent;

describe('the pointer over the grid', () => {
  it('presses a cell, also on what stands in it, and nothing that is no cell', () => {
    const { cells, name } = row();
    const pointer = new GridPointer();
    expect(pointer.press(at(cells[1]!))).toEqual({ row: 1, col: 1 });
    expect(pointer.press(at(cells[2]!.querySelector('i')!))).toEqual({ row: 1, col: 2 });
    expect(pointer.press(at(name))).toBeNull();
    expect(pointer.press(at(cells[0]!, { button: 2 }))).toBeNull();
  });

  it('drags to other cells alone, and only after a press on one', () => {
    const { cells, name } = row();
    const pointer = new GridPointer();
    const now = { row: 1, col: 0 };
    expect(pointer.drag(at(cells[1]!), now)).toBeNull();
    pointer.press(at(cells[0]!));
    expect(pointer.drag(at(cells[0]!), now)).toBeNull();
    expect(pointer.drag(at(cells[2]!), now)).toEqual({ row: 1, col: 2 });
    pointer.press(at(name));
    expect(pointer.drag(at(cells[2]!), now)).toBeNull();
  });

  it('has let go where the button was let go, inside or out', () => {
    const { cells } = row();
    const pointer = new GridPointer();
    const now = { row: 1, col: 0 };
    pointer.press(at(cells[0]!));
    expect(pointer.drag(at(cells[1]!, { buttons: 0 }), now)).toBeNull();
    expect(pointer.drag(at(cells[1]!), now)).toBeNull();
    pointer.press(at(cells[0]!));
    pointer.release();
    expect(pointer.drag(at(cells[1]!), now)).toBeNull();
  });
});
