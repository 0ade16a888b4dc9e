import type { Entry } from '@core/book/document';
import { isScored } from '@core/calculation/cells/attempts';
import { KIND } from '@core/calculation/cells/cells';
import type { CompiledBook, CompiledItem } from '@core/calculation/compiled/compile';
import { dueOf } from '@core/calculation/cells/dates';
import { entryAt } from '@core/calculation/cells/entries-by-item';
import { parseMoment } from '@core/time/moment';
import { itemValue } from '@core/calculation/cells/value';
import { subtract } from '@core/exact/fraction';
import { scaledInteger } from '@core/exact/rounding';
import { FLAG, type CellColumns } from './protocol';

export function emptyColumns(size: number): CellColumns {
  return {
    state: new Uint8Array(size),
    flags: new Uint8Array(size),
    counts: new Float64Array(size).fill(NaN),
    marked: new Float64Array(size).fill(NaN),
    taken: new Float64Array(size).fill(NaN),
    due: new Float64Array(size).fill(NaN),
    version: new Int32Array(size),
  };
}

export const buffersOf = (c: CellColumns): Transferable[] =>
  Object.values(c).map((a: ArrayBufferView) => a.buffer as ArrayBuffer);

/** What stands beside a cell's entry: whether students see it (1) or an earlier form of it (2), and its version. */
export interface CellExtras {
  dropped: boolean;
  out: number;
  version: number;
  hidden: boolean;
}

/** What the page needs of one cell (student s, item i), written at its place in the columns. */
export function writeCell(
  compiled: CompiledBook,
  s: number,
  item: CompiledItem,
  to: CellColumns,
  at: number,
  beside: CellExtras,
): void {
  if (beside.hidden) return void (to.flags[at] = FLAG.hidden);
  const { cells } = compiled;
  const kind = cells.kind[s * cells.width + item.index]!;
  const entry = entryAt(compiled, s, item.index);
  to.state[at] = kind & KIND.state;
  to.counts[at] = kind & KIND.skipped ? NaN : hundredths(compiled, s * cells.width + item.index, kind);
  to.version[at] = beside.version;
  to.flags[at] =
    (beside.dropped ? FLAG.dropped : 0) |
    (beside.out === 1 ? FLAG.released : 0) |
    (beside.out === 2 ? FLAG.changed : 0);
  if (entry !== undefined) writeEntry(compiled, s, item, entry, to, at);
}

function writeEntry(
  compiled: CompiledBook,
  s: number,
  item: CompiledItem,
  entry: Entry,
  to: CellColumns,
  at: number,
): void {
  const attempts = entry.attempts ?? [];
  const last = attempts[attempts.length - 1];
  let latest = entry.set;
  for (let k = attempts.length - 1; latest === undefined && k >= 0; k--) latest = attempts[k]!.score;
  to.marked[at] = latest === undefined ? NaN : Math.round(latest * 10_000);
  to.due[at] = entry.dueAt === undefined ? NaN : Date.parse(entry.dueAt);
  const scored = (compiled.cells.kind[s * compiled.cells.width + item.index]! & KIND.state) === SCORED;
  to.taken[at] = scored && mayBeLate(compiled, s, item, entry) ? taken(compiled, s, item, entry) : NaN;
  to.flags[at]! |=
    (entry.dueAt !== undefined || entry.lateAllowances !== undefined ? FLAG.ownDate : 0) |
    (entry.state === 'missing' ? FLAG.byHand : 0) |
    (scored && last !== undefined && !isScored(last) ? FLAG.again : 0);
}

const SCORED = 4;

/** What lateness took of the attempt that counts, in hundredths of a point; NaN where it was not late. */
function taken(compiled: CompiledBook, s: number, item: CompiledItem, entry: Entry): number {
  const at = s * compiled.cells.width + item.index;
  const only = entry.attempts!.length === 1 ? entry.attempts![0]! : undefined;
  if (only?.score !== undefined && !item.source.curve && !(compiled.cells.kind[at]! & KIND.isExact)) {
    // One attempt, no curve: what is missing from the score is what lateness took.
    const less = Math.round(only.score * 10_000) - Math.round(compiled.cells.earned[at]! * 10_000);
    return less === 0 ? NaN : Math.floor((less + 50) / 100);
  }
  const chosen = itemValue(compiled, item, s).attempts?.chosen;
  return chosen?.late ? Number(scaledInteger(subtract(chosen.curved, chosen.afterLate), 2, 'half-up')) : NaN;
}

/** False where no attempt can have lost anything to lateness, which spares looking at it more closely. */
function mayBeLate(compiled: CompiledBook, s: number, item: CompiledItem, entry: Entry): boolean {
  if (item.late === null) return false;
  const due = dueOf(compiled, item, s, entry);
  return (entry.attempts ?? []).some(
    (a) =>
      (a.lateUnits ?? 0) > 0 ||
      (a.receivedAt !== undefined &&
        ((due !== null && parseMoment(a.receivedAt)! > due) || item.late!.afterCloses !== null)),
  );
}

/** Points earned in hundredths, half-up from the exact figure. */
function hundredths(compiled: CompiledBook, at: number, kind: number): number {
  const { cells } = compiled;
  if (kind & KIND.isExact) return Number(scaledInteger(cells.exact.get(at)!, 2, 'half-up'));
  return Math.floor((Math.round(cells.earned[at]! * 10_000) + 50) / 100);
}

/** Titles of the groups as the rules name them. */
export function groupTitles(compiled: CompiledBook): Record<string, string> {
  const titles: Record<string, string> = {};
  for (const g of compiled.groups) {
    const info = g.source.info as { title?: unknown } | undefined;
    titles[g.id] = typeof info?.title === 'string' ? info.title : g === compiled.root ? 'the whole' : g.id;
  }
  return titles;
}
