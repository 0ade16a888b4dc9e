import { canonical } from '../book/canonical';
import { changeCell, type CellChange, type EntryContent } from '../book/change';
import { plain, Roster, type RosterStudent } from './match';
import type { Table } from './table';
import { readTyped } from './typed';

/** An assessment that a column can be brought into. */
export interface IntakeTarget {
  id: string;
  title: string;
  points: number;
  marks: readonly string[];
}

/** What the columns of a table are. Column numbers count from 0. */
export interface Columns {
  student: number | null;
  scores: { column: number; target: string; outOf: number | null }[];
}

export type CellFate =
  | { kind: 'new' | 'changed'; target: string; typed: string; change: CellChange; was: EntryContent; above: boolean }
  | { kind: 'same' | 'blank'; target: string; typed: string; was: EntryContent }
  | { kind: 'refused'; target: string; typed: string; message: string };

export interface RowFate {
  line: number;
  /** The text in the student column. */
  who: string;
  match: { id: string; by: 'number' | 'mail' | 'name' } | null;
  /** Why the whole row is left out, or null. */
  refused: string | null;
  cells: CellFate[];
}

export interface Preview {
  rows: RowFate[];
  counts: {
    rows: number;
    new: number;
    changed: number;
    same: number;
    blank: number;
    refused: number;
    unmatched: number;
  };
}

/** The column most of whose cells are students of the book, and the columns whose headings name an assessment. */
export function guessColumns(
  table: Table,
  students: readonly RosterStudent[],
  targets: readonly IntakeTarget[],
): Columns {
  const roster = new Roster(students);
  const width = table.rows.reduce((most, r) => Math.max(most, r.cells.length), table.headings.length);
  let student: number | null = null;
  let most = 0;
  for (let column = 0; column < width; column++) {
    const found = table.rows.filter((r) => roster.find(r.cells[column] ?? '').kind === 'found').length;
    if (found > most) [student, most] = [column, found];
  }
  const taken = new Set<string>();
  const scores: Columns['scores'] = [];
  table.headings.forEach((heading, column) => {
    if (column === student) return;
    const { title, outOf } = splitHeading(heading);
    const target = targets.find((t) => plain(t.title) === plain(title) || plain(t.title) === plain(heading));
    if (!target || taken.has(target.id)) return;
    taken.add(target.id);
    scores.push({ column, target: target.id, outOf: outOf !== null && outOf !== target.points ? outOf : null });
  });
  return { student, scores };
}

/** "Quadrat count /30", "Quadrat count (30)" → the title and what it is out of. */
export function splitHeading(heading: string): { title: string; outOf: number | null } {
  const m = /^(.*?)\s*(?:\/\s*(\d+(?:[.,]\d{1,4})?)|\((?:of |out of |\/)?\s*(\d+(?:[.,]\d{1,4})?)\s*\))\s*$/i.exec(
    heading,
  );
  if (!m || m[1]!.trim() === '') return { title: heading.trim(), outOf: null };
  const outOf = Number((m[2] ?? m[3])!.replace(',', '.'));
  return { title: m[1]!.trim(), outOf: outOf > 0 ? outOf : null };
}

/**
 * What would happen to every row and cell. A blank never overwrites; a row whose student is not found, found twice or
 * listed twice is left out whole, with the reason. `now` gives what a cell holds.
 */
export function reconcile(
  table: Table,
  columns: Columns,
  students: readonly RosterStudent[],
  targets: readonly IntakeTarget[],
  now: (student: string, item: string) => EntryContent,
): Preview {
  const roster = new Roster(students);
  const byId = new Map(targets.map((t) => [t.id, t]));
  const seen = new Map<string, number>();
  const preview: Preview = {
    rows: [],
    counts: { rows: 0, new: 0, changed: 0, same: 0, blank: 0, refused: 0, unmatched: 0 },
  };
  for (const row of table.rows) {
    const who = columns.student === null ? '' : (row.cells[columns.student] ?? '');
    const match = roster.find(who);
    const fate: RowFate = { line: row.line, who, match: null, refused: null, cells: [] };
    preview.rows.push(fate);
    preview.counts.rows++;
    if (match.kind !== 'found') {
      fate.refused =
        match.kind === 'several'
          ? match.message
          : who === ''
            ? 'This row names no student.'
            : 'Nobody in this book has this number, mail address or name.';
      preview.counts.unmatched++;
      continue;
    }
    fate.match = { id: match.id, by: match.by };
    const before = seen.get(match.id);
    if (before !== undefined) {
      fate.refused = `Row ${before} is for the same student; only the first is used.`;
      preview.counts.refused++;
      continue;
    }
    seen.set(match.id, row.line);
    for (const score of columns.scores) {
      const cell = cellFate(
        row.cells[score.column] ?? '',
        byId.get(score.target)!,
        score.outOf,
        now(match.id, score.target),
      );
      fate.cells.push(cell);
      preview.counts[cell.kind]++;
    }
  }
  return preview;
}

function cellFate(typed: string, target: IntakeTarget, outOf: number | null, was: EntryContent): CellFate {
  const read = readTyped(typed, { points: target.points, marks: target.marks, ...(outOf === null ? {} : { outOf }) });
  if (read.kind === 'blank') return { kind: 'blank', target: target.id, typed, was };
  if (read.kind === 'refused') return { kind: 'refused', target: target.id, typed, message: read.message };
  const same = canonical(changeCell(was, read.change)) === canonical(was);
  if (same) return { kind: 'same', target: target.id, typed, was };
  const had =
    was.state !== undefined ||
    was.set !== undefined ||
    (was.attempts ?? []).some((a) => a.score !== undefined || a.mark !== undefined);
  return { kind: had ? 'changed' : 'new', target: target.id, typed, change: read.change, was, above: read.above };
}
