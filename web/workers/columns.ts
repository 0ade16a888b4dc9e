import type { EntryContent } from '@core/book/change';
import type { CompiledBook } from '@core/calculation/compile';
import type { StudentOutcome } from '@core/calculation/final';
import type { ItemValue } from '@core/calculation/value';
import { isScored } from '@core/calculation/attempts';
import { subtract, toNumber } from '@core/exact/fraction';
import { scaledInteger } from '@core/exact/rounding';
import { FLAG, STATES, type CellColumns, type Standing } from './protocol';

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

/** What the page needs of one cell, written at its place. */
export function writeCell(
  columns: CellColumns,
  at: number,
  cell: { value: ItemValue; content: EntryContent; dropped: boolean; out: number; version: number },
): void {
  const { value, content } = cell;
  columns.state[at] = STATES.indexOf(value.state);
  columns.counts[at] = value.earned === null ? NaN : Number(scaledInteger(value.earned, 2, 'half-up'));
  const last = content.attempts?.[content.attempts.length - 1];
  const latest = content.set ?? [...(content.attempts ?? [])].reverse().find((a) => a.score !== undefined)?.score;
  columns.marked[at] = latest === undefined ? NaN : Math.round(latest * 10_000);
  const chosen = value.attempts?.chosen;
  columns.taken[at] = chosen?.late
    ? Number(scaledInteger(subtract(chosen.curved, chosen.afterLate), 2, 'half-up'))
    : NaN;
  columns.due[at] = content.dueAt === undefined ? NaN : Date.parse(content.dueAt);
  columns.version[at] = cell.version;
  columns.flags[at] =
    (cell.dropped ? FLAG.dropped : 0) |
    (cell.out === 1 ? FLAG.released : 0) |
    (cell.out === 2 ? FLAG.changed : 0) |
    (content.dueAt !== undefined || content.lateAllowances !== undefined ? FLAG.ownDate : 0) |
    (content.state === 'missing' ? FLAG.byHand : 0) |
    (value.state === 'scored' && last !== undefined && !isScored(last) ? FLAG.again : 0);
}

export function standingOf(outcome: StudentOutcome): Standing {
  const at = (f: StudentOutcome['final']): number => (f.exact === null ? NaN : toNumber(f.exact));
  return {
    percent: outcome.final.rounded,
    letter: outcome.final.letter,
    low: outcome.low.rounded,
    high: outcome.high.rounded,
    at: at(outcome.final),
    lowAt: at(outcome.low),
    highAt: at(outcome.high),
  };
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
