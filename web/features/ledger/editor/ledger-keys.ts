import type { KeyHint } from '../../../ui/layout/status-bar';
import type { Spot } from '../view/ledger-view';

/** All keys of the ledger; the first few stand in the foot. */
export const LEDGER_KEYS: KeyHint[] = [
  { key: 'type', does: 'score, or ex… mi…' },
  { key: '/', does: 'late, due, note …' },
  { key: 'Ctrl Z', does: 'undo' },
  { key: '?', does: 'all keys' },
  { key: 'Enter', does: 'open the cell; in it: keep it and go down (Shift: up, Tab: right)' },
  { key: 'Esc', does: 'leave the cell as it was' },
  { key: 'Backspace', does: 'take the score or state away from all that is selected' },
  { key: 'arrows', does: 'to the next cell; with Shift they select' },
  { key: 'Page Up, Page Down', does: 'a page up or down' },
  { key: 'Home, End', does: 'to the first assessment, to the standing; with Ctrl to the first or last student' },
  { key: 'Shift Space', does: 'select the student' },
  { key: 'Ctrl Space', does: 'select the assessment' },
  { key: 'Alt Enter', does: 'put what is typed into all that is selected' },
  { key: 'Ctrl C, Ctrl X, Ctrl V', does: 'copy, cut, paste, also from and to a spreadsheet' },
  { key: 'Ctrl Y', does: 'make again what undo put back' },
  { key: 'Alt M', does: 'what was marked, or what counts' },
  { key: 'Alt N', does: 'find a name' },
  { key: 'Alt R', does: 'the rules that make this number' },
  { key: '/down, /across', does: 'fill the selection' },
  { key: '/history', does: 'everything that happened to the cell' },
  { key: '/column', does: 'numbers and spread of the assessment' },
  { key: '/closing', does: 'the sheet as if the term ended now, and back' },
];

/** Where a key leads from a cell, or null where it is no step. */
export function stepOf(
  event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'altKey' | 'metaKey'>,
  { row, col }: Spot,
  size: { rows: number; columns: number; page: number },
): Spot | null {
  if (event.altKey || event.metaKey) return null;
  switch (event.key) {
    case 'ArrowDown':
      return { row: row + 1, col };
    case 'ArrowUp':
      return { row: row - 1, col };
    case 'ArrowRight':
      return { row, col: col + 1 };
    case 'ArrowLeft':
      return { row, col: col - 1 };
    case 'PageDown':
      return { row: row + size.page, col };
    case 'PageUp':
      return { row: row - size.page, col };
    case 'Home':
      return event.ctrlKey ? { row: 0, col: 0 } : { row, col: 0 };
    case 'End':
      return event.ctrlKey ? { row: size.rows - 1, col: size.columns } : { row, col: size.columns };
    default:
      return null;
  }
}
