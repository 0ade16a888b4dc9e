import type { KeyHint } from '../../../ui/layout/status-bar';
import type { Step } from './cell-target';
import type { Spot } from '../view/ledger-view';

/** All keys of the ledger; the first few stand in the foot. */
export const LEDGER_KEYS: KeyHint[] = [
  { key: 'type', label: 'score, or ex… mi…' },
  { key: '/', label: 'late, due, note …' },
  { key: 'Ctrl Z', label: 'undo' },
  { key: '?', label: 'all keys' },
  { key: 'Enter', label: 'open the cell; in it: keep it and go down (Shift: up, Tab: right)' },
  { key: 'Esc', label: 'leave the cell as it was' },
  { key: 'Backspace', label: 'take the score or state away from all that is selected' },
  { key: 'arrows', label: 'to the next cell; with Shift they select' },
  { key: 'Page Up, Page Down', label: 'a page up or down' },
  { key: 'Home, End', label: 'to the first assessment, to the standing; with Ctrl to the first or last student' },
  { key: 'Shift Space', label: 'select the student' },
  { key: 'Ctrl Space', label: 'select the assessment' },
  { key: 'Alt Enter', label: 'put what is typed into all that is selected' },
  { key: 'Ctrl C, Ctrl X, Ctrl V', label: 'copy, cut, paste, also from and to a spreadsheet' },
  { key: 'Ctrl Y', label: 'make again what undo put back' },
  { key: 'Alt M', label: 'what was marked, or what counts' },
  { key: 'Alt N', label: 'find a name' },
  { key: 'Alt R', label: 'the rules that make this number' },
  { key: '/down, /across', label: 'fill the selection' },
  { key: '/history', label: 'everything that happened to the cell' },
  { key: '/column', label: 'numbers and spread of the assessment' },
  { key: '/closing', label: 'the sheet as if the term ended now, and back' },
];

/** Where the cursor is after an entry. */
export function spotAfter(step: Step, { row, col }: Spot): Spot {
  const to: Record<Step, Spot> = {
    stay: { row, col },
    down: { row: row + 1, col },
    up: { row: row - 1, col },
    right: { row, col: col + 1 },
    left: { row, col: col - 1 },
  };
  return to[step];
}

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
