import { DAY, dayStart, isMidnight, isoWeekday } from './local-days';

/**
 * How much of a span falls on skipped local days (contract, section 4.1), in a time that does not grow with the span:
 * days are kept in blocks, each with the running length of its Mondays, Tuesdays … Blocks are made when first asked for.
 */
const BLOCK = 512;

interface Block {
  /** First instants of its days, and of the day after the last: BLOCK + 1 of them. */
  starts: Float64Array;
  /** running[w × (BLOCK + 1) + i]: milliseconds on weekday w + 1 among the first i days. */
  running: Float64Array;
}

const zones = new Map<string, Map<number, Block>>();

function blockOf(zone: string, index: number): Block {
  let blocks = zones.get(zone);
  if (!blocks) zones.set(zone, (blocks = new Map()));
  let block = blocks.get(index);
  if (!block) blocks.set(index, (block = makeBlock(zone, index)));
  return block;
}

function makeBlock(zone: string, index: number): Block {
  const first = index * BLOCK;
  const starts = new Float64Array(BLOCK + 1);
  // Steps of a whole day at a time only ever lead from a midnight to a midnight.
  let midnight = false;
  for (let i = 0; i <= BLOCK; i++) {
    const yesterday: number | undefined = midnight ? starts[i - 1]! : undefined;
    starts[i] = dayStart(zone, first + i, yesterday);
    midnight = (yesterday !== undefined && starts[i] === yesterday + DAY) || isMidnight(zone, starts[i]!, first + i);
  }
  const running = new Float64Array(7 * (BLOCK + 1));
  for (let w = 0; w < 7; w++)
    for (let i = 0; i < BLOCK; i++) {
      const at = w * (BLOCK + 1) + i;
      running[at + 1] = running[at]! + (isoWeekday(first + i) === w + 1 ? starts[i + 1]! - starts[i]! : 0);
    }
  return { starts, running };
}

const startOf = (zone: string, day: number): number => {
  const index = Math.floor(day / BLOCK);
  return blockOf(zone, index).starts[day - index * BLOCK]!;
};

/** The local day that a moment belongs to: from its first instant to the next day's. */
function dayOf(zone: string, at: number): number {
  let day = Math.floor(at / DAY);
  while (startOf(zone, day) > at) day--;
  while (startOf(zone, day + 1) <= at) day++;
  return day;
}

/** What a late rule skips. `days`: ISO weekdays; `dates`: days since 1970 that are no such weekday, rising. */
export interface Skips {
  days: readonly number[];
  dates: Float64Array;
}

/** `dates` as days since 1970-01-01. */
export function makeSkips(days: readonly number[], dates: readonly number[]): Skips | null {
  const weekdays = [...new Set(days)];
  const other = [...new Set(dates)].filter((d) => !weekdays.includes(isoWeekday(d))).sort((a, b) => a - b);
  return weekdays.length === 0 && other.length === 0 ? null : { days: weekdays, dates: Float64Array.from(other) };
}

/** Milliseconds of the span from `from` to `to` that fall on skipped days. */
export function skippedMillis(zone: string, from: number, to: number, skips: Skips | null): number {
  if (skips === null || to <= from) return 0;
  const first = dayOf(zone, from);
  const last = dayOf(zone, to);
  let skipped = weekdaysBetween(zone, first, last, skips.days) + datesBetween(zone, first, last, skips.dates);
  if (isSkipped(first, skips)) skipped -= from - startOf(zone, first);
  if (isSkipped(last, skips)) skipped -= startOf(zone, last + 1) - to;
  return skipped;
}

function isSkipped(day: number, skips: Skips): boolean {
  const at = position(skips.dates, day);
  return skips.days.includes(isoWeekday(day)) || skips.dates[at] === day;
}

/** The place of the first date that is not before the day. */
function position(dates: Float64Array, day: number): number {
  let low = 0;
  let high = dates.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (dates[middle]! < day) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The whole of every such weekday from the first day to the last, both included. */
function weekdaysBetween(zone: string, first: number, last: number, days: readonly number[]): number {
  if (days.length === 0) return 0;
  let sum = 0;
  for (let index = Math.floor(first / BLOCK); index <= Math.floor(last / BLOCK); index++) {
    const { running } = blockOf(zone, index);
    const low = Math.max(0, first - index * BLOCK);
    const high = Math.min(BLOCK, last - index * BLOCK + 1);
    for (const d of days) sum += running[(d - 1) * (BLOCK + 1) + high]! - running[(d - 1) * (BLOCK + 1) + low]!;
  }
  return sum;
}

const lengths = new WeakMap<Float64Array, { zone: string; running: Float64Array }>();

/** The whole of every date of the list from the first day to the last, both included. */
function datesBetween(zone: string, first: number, last: number, dates: Float64Array): number {
  if (dates.length === 0) return 0;
  const low = position(dates, first);
  const high = position(dates, last + 1);
  if (high - low <= 64) {
    let sum = 0;
    for (let i = low; i < high; i++) sum += startOf(zone, dates[i]! + 1) - startOf(zone, dates[i]!);
    return sum;
  }
  // Many of them: a running sum is made once, over those that any moment of the contract can reach.
  let known = lengths.get(dates);
  if (known?.zone !== zone) {
    const running = new Float64Array(dates.length + 1);
    dates.forEach((day, i) => {
      const reachable = day > FIRST && day < LAST;
      running[i + 1] = running[i]! + (reachable ? startOf(zone, day + 1) - startOf(zone, day) : 0);
    });
    lengths.set(dates, (known = { zone, running }));
  }
  return known.running[high]! - known.running[low]!;
}

/** Days of 1899 and 3000: moments lie between (contract, section 1). */
const FIRST = -25_940;
const LAST = 376_600;
