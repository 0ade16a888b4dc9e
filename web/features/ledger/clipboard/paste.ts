import type { CellChange } from '@core/book/change';
import { readTyped } from '@core/import/typed';

/** Rows from a spreadsheet's clipboard: tab-separated, cells with tabs or line feeds in quotes. */
export async function readClipboard(text: string): Promise<string[][]> {
  const trimmed = text.replace(/\r\n?/g, '\n').replace(/\n$/, '');
  if (trimmed === '') return [];
  const { parse } = (await import('papaparse')).default;
  return parse<string[]>(trimmed, { delimiter: '\t', newline: '\n' }).data;
}

/** Text for a clipboard that any spreadsheet takes. What could be read as a formula there is marked as text. */
export function toClipboard(rows: readonly (readonly string[])[]): string {
  const cell = (text: string): string => {
    const safe = /^[=+@\t\r]/.test(text) || /^-(?!\d)/.test(text) ? `'${text}` : text;
    return /["\t\n]/.test(safe) ? `"${safe.replace(/"/g, '""')}"` : safe;
  };
  return rows.map((r) => r.map(cell).join('\t')).join('\n');
}

/** A cell that a paste lands on. */
export interface PasteTarget {
  student: string;
  item: string;
  points: number;
  marks: readonly string[];
  /** What it shows now; '' where it holds no score and no state. */
  now: string;
  /** The version that was seen with it. */
  version: number;
}

export interface PasteCell {
  target: PasteTarget;
  text: string;
  /** Null: the text cannot be read; `says` has the reason. */
  change: CellChange | null;
  kind: 'new' | 'overwrites' | 'same' | 'above' | 'refused';
  message: string;
}

/** What a paste would do. */
export interface PastePlan {
  cells: PasteCell[];
  /** Cells of the clipboard that lie beyond the sheet, or on what cannot be typed into. */
  beyond: number;
  /** Nothing in it needs a look: no overwriting, nothing refused, above or beyond. */
  clear: boolean;
}

/**
 * Lays a block of text over cells. `at` gives the cell `row` rows down and `column` columns right of the corner, or null.
 * One value fills the whole selection; a block is repeated where the selection is a multiple of it.
 */
export function planPaste(
  block: readonly (readonly string[])[],
  selection: { rows: number; columns: number },
  at: (row: number, column: number) => PasteTarget | null,
): PastePlan {
  const height = block.length;
  const width = Math.max(0, ...block.map((r) => r.length));
  const times = (have: number, want: number): number => (want > have && want % have === 0 ? want : have);
  const rows = height === 0 ? 0 : times(height, selection.rows);
  const columns = width === 0 ? 0 : times(width, selection.columns);
  const cells: PasteCell[] = [];
  let beyond = 0;
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const text = (block[r % height]![c % width] ?? '').trim();
      // A blank never takes anything away.
      if (text === '') continue;
      const target = at(r, c);
      if (!target) beyond++;
      else cells.push(read(target, text));
    }
  const clear = beyond === 0 && cells.every((c) => c.kind === 'new' || c.kind === 'same');
  return { cells, beyond, clear };
}

function read(target: PasteTarget, text: string): PasteCell {
  const typed = readTyped(text, target);
  if (typed.kind !== 'change')
    return { target, text, change: null, kind: 'refused', message: typed.kind === 'refused' ? typed.message : '' };
  const { change, above } = typed;
  const same =
    text === target.now || (change.kind === 'score' && Number(target.now) === change.points && target.now !== '');
  if (same) return { target, text, change, kind: 'same', message: '' };
  if (above)
    return { target, text, change, kind: 'above', message: `${text} is more than the ${target.points} possible.` };
  return { target, text, change, kind: target.now === '' ? 'new' : 'overwrites', message: '' };
}
