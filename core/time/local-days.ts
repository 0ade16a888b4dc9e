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
  if (!/^[A-Za-z][A-Za-z0-9_+\-/]{0,63}$/.test(zone)) return false;
  try {
    format(zone);
    return true;
  } catch {
    return false;
  }
}

const SHOWN = /^(\d+)\/(\d+)\/(\d+), (\d+):(\d+):(\d+)$/;

/** What the zone's clock shows at a moment, as if it were UTC, in milliseconds. */
function shown(zone: string, at: number): number {
  const m = SHOWN.exec(format(zone).format(at));
  if (m === null) throw new Error(`the clock of ${zone} could not be read`);
  const millis = ((at % 1000) + 1000) % 1000;
  return Date.UTC(Number(m[3]), Number(m[1]) - 1, Number(m[2]), Number(m[4]), Number(m[5]), Number(m[6]), millis);
}

/** The date that the zone's clock shows at a moment, as days since 1970-01-01. */
export function localDay(zone: string, at: number): number {
  return Math.floor(shown(zone, at) / DAY);
}

/**
 * The first instant of a local day. A day that the zone leaves out begins, and ends, where the next one begins.
 * `yesterday`: the first instant of the day before, where that is known to be a midnight; it spares most of the work.
 */
export function dayStart(zone: string, day: number, yesterday?: number): number {
  const midnight = day * DAY;
  // With no clock change in between, this day begins as long after UTC as the one before.
  if (yesterday !== undefined && shown(zone, yesterday + DAY) === midnight) return yesterday + DAY;
  const before = shown(zone, midnight - DAY) - (midnight - DAY);
  const after = shown(zone, midnight + DAY) - (midnight + DAY);
  const early = midnight - Math.max(before, after);
  const late = midnight - Math.min(before, after);
  if (shown(zone, early) === midnight) return early;
  if (early !== late && shown(zone, late) === midnight) return late;
  // Midnight does not exist here: the day begins at the clock change, the first instant whose date is not earlier.
  let low = early - DAY;
  let high = late + DAY;
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (localDay(zone, middle) >= day) high = middle;
    else low = middle;
  }
  return high;
}

/** The zone's clock shows the beginning of that day at a moment. */
export const isMidnight = (zone: string, at: number, day: number): boolean => shown(zone, at) === day * DAY;

/** 1 Monday to 7 Sunday, for a day counted from 1970-01-01 (a Thursday). */
export const isoWeekday = (day: number): number => ((((day + 3) % 7) + 7) % 7) + 1;

export const dateText = (day: number): string => new Date(day * DAY).toISOString().slice(0, 10);

/** The moment so many days on, at the same local time; an hour later where that time does not exist. Milliseconds. */
export function shiftDays(zone: string, at: number, days: number): number {
  const wanted = shown(zone, at) + days * DAY;
  const near = at + days * DAY;
  const moved = near + (wanted - shown(zone, near));
  // Where the clock is put forward over the wanted time, moving there overshoots to the hour before it.
  return shown(zone, moved) === wanted ? moved : Math.max(moved, near);
}
