/** Local calendar days in a time zone, across clock changes. Moments are milliseconds since 1970 UTC. */
export const DAY = 86_400_000;
export const HOUR = 3_600_000;

const formats = new Map<string, Intl.DateTimeFormat>();

function format(zone: string): Intl.DateTimeFormat {
  let f = formats.get(zone);
  if (!f) {
    f = new Intl.DateTimeFormat('en-US', {
      timeZone: zone,
      hourCycle: 'h23',
      era: 'short',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
    });
    formats.set(zone, f);
  }
  return f;
}

/** True where the zone's name is one that the machine's time zone data knows. */
export function isTimeZone(zone: string): boolean {
  if (!/^[A-Za-z][A-Za-z0-9_+\-/]*$/.test(zone)) return false;
  try {
    format(zone);
    return true;
  } catch {
    return false;
  }
}

/** What the zone's clock shows at a moment, as if it were UTC, in milliseconds. */
function shown(zone: string, at: number): number {
  const part: Record<string, number> = {};
  for (const p of format(zone).formatToParts(at)) if (p.type !== 'literal') part[p.type] = Number(p.value);
  const millis = ((at % 1000) + 1000) % 1000;
  return Date.UTC(
    part['year']!,
    part['month']! - 1,
    part['day']!,
    part['hour']!,
    part['minute']!,
    part['second']!,
    millis,
  );
}

/** The local day that holds a moment, as days since 1970-01-01. */
export function localDay(zone: string, at: number): number {
  return Math.floor(shown(zone, at) / DAY);
}

const starts = new Map<string, Map<number, number>>();

/** The first instant of a local day. A day that the zone leaves out begins, and ends, where the next one begins. */
export function dayStart(zone: string, day: number): number {
  let known = starts.get(zone);
  if (!known) starts.set(zone, (known = new Map()));
  let start = known.get(day);
  if (start === undefined) {
    start = findStart(zone, day);
    if (known.size > 50_000) known.clear();
    known.set(day, start);
  }
  return start;
}

function findStart(zone: string, day: number): number {
  const midnight = day * DAY;
  const before = shown(zone, midnight - DAY) - (midnight - DAY);
  const after = shown(zone, midnight + DAY) - (midnight + DAY);
  const candidates = [midnight - before, midnight - after].sort((a, b) => a - b);
  for (const c of candidates) if (shown(zone, c) === midnight) return c;
  // Midnight does not exist here: the day begins at the clock change, the first instant whose date is not earlier.
  let low = candidates[0]! - DAY;
  let high = candidates[1]! + DAY;
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (localDay(zone, middle) >= day) high = middle;
    else low = middle;
  }
  return high;
}

/** 1 Monday to 7 Sunday, for a day counted from 1970-01-01 (a Thursday). */
export const isoWeekday = (day: number): number => ((((day + 3) % 7) + 7) % 7) + 1;

export const dateText = (day: number): string => new Date(day * DAY).toISOString().slice(0, 10);

/** Milliseconds of the span [from, to] that fall on skipped local days (contract, section 4.1). */
export function skippedMillis(
  zone: string,
  from: number,
  to: number,
  skipDays: ReadonlySet<number>,
  skipDates: ReadonlySet<string>,
): number {
  if ((skipDays.size === 0 && skipDates.size === 0) || to <= from) return 0;
  let skipped = 0;
  const last = localDay(zone, to);
  for (let day = localDay(zone, from); day <= last; day++) {
    if (!skipDays.has(isoWeekday(day)) && !(skipDates.size > 0 && skipDates.has(dateText(day)))) continue;
    const start = Math.max(from, dayStart(zone, day));
    const end = Math.min(to, dayStart(zone, day + 1));
    if (end > start) skipped += end - start;
  }
  return skipped;
}
