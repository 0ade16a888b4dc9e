/** Dates as people read them here, in the book's time zone. Years are left out: a term is short. */
const made = new Map<string, Intl.DateTimeFormat>();

function format(zone: string, options: Intl.DateTimeFormatOptions, key: string): Intl.DateTimeFormat {
  const k = `${zone} ${key}`;
  let f = made.get(k);
  if (!f) made.set(k, (f = new Intl.DateTimeFormat('en-GB', { timeZone: zone, ...options })));
  return f;
}

const short = (text: string): string => text.replace('Sept', 'Sep');

/** "27 Nov" */
export const day = (at: string | number, zone: string): string =>
  short(format(zone, { day: 'numeric', month: 'short' }, 'day').format(new Date(at)));

/** "27 Nov 17:00" */
export const dayAndTime = (at: string | number, zone: string): string =>
  `${day(at, zone)} ${format(zone, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }, 'time').format(new Date(at))}`;

/** "Tuesday 24 November" */
export const longDay = (at: string | number, zone: string): string =>
  format(zone, { weekday: 'long', day: 'numeric', month: 'long' }, 'long').format(new Date(at)).replace(',', '');

/** "20:41:07", by this machine's clock. */
export const clock = (): string => new Date().toLocaleTimeString('en-GB', { hour12: false });

/** "8 days", "today": how long ago, in whole days. */
export function ago(at: string, now: string): string {
  const days = Math.floor((Date.parse(now) - Date.parse(at)) / 86_400_000);
  return days <= 0 ? 'today' : days === 1 ? '1 day' : `${days} days`;
}

/**
 * Reads a day as typed: "27 Nov", "27 Nov 17:00", "2026-11-27", "2026-11-27 17:00". Without a time it ends at the time
 * of `like`, or 17:00. The year is that which lies nearest to `near`. Null where it is no day. Local to `zone`.
 */
export function readDay(text: string, zone: string, near: string, like?: string | null): string | null {
  const m = /^\s*(?:(\d{4})-(\d{1,2})-(\d{1,2})|(\d{1,2})\.?\s*([a-z]{3,9})\.?)(?:[\sT]+(\d{1,2}):(\d{2}))?\s*$/i.exec(
    text,
  );
  if (!m) return null;
  const month = m[2] ? Number(m[2]) : monthOf(m[5]!);
  const date = Number(m[3] ?? m[4]);
  if (month < 1 || month > 12) return null;
  const time = m[6] !== undefined ? [Number(m[6]), Number(m[7])] : timeOf(like, zone);
  if (time[0]! > 23 || time[1]! > 59) return null;
  const nearYear = new Date(near).getUTCFullYear();
  const years = m[1] ? [Number(m[1])] : [nearYear - 1, nearYear, nearYear + 1];
  const found = years.flatMap((y) => {
    const at = new Date(Date.UTC(y, month - 1, date));
    return at.getUTCMonth() === month - 1 && at.getUTCDate() === date
      ? [inZone(y, month, date, time[0]!, time[1]!, zone)]
      : [];
  });
  const target = Date.parse(near);
  found.sort((a, b) => Math.abs(a - target) - Math.abs(b - target));
  return found.length === 0 ? null : new Date(found[0]!).toISOString();
}

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const monthOf = (word: string): number => MONTHS.indexOf(word.slice(0, 3).toLowerCase()) + 1;

function timeOf(like: string | null | undefined, zone: string): number[] {
  if (!like) return [17, 0];
  return dayAndTime(like, zone).slice(-5).split(':').map(Number);
}

/** The moment at which the zone's clock shows the given local time. */
function inZone(year: number, month: number, date: number, hour: number, minute: number, zone: string): number {
  const wanted = Date.UTC(year, month - 1, date, hour, minute);
  let at = wanted;
  for (let i = 0; i < 3; i++) at += wanted - shownAt(at, zone);
  return at;
}

function shownAt(at: number, zone: string): number {
  const p = format(
    zone,
    { year: 'numeric', month: 'numeric', day: 'numeric', hour: 'numeric', minute: 'numeric', hourCycle: 'h23' },
    'parts',
  ).formatToParts(at);
  const of = (type: string): number => Number(p.find((x) => x.type === type)!.value);
  return Date.UTC(of('year'), of('month') - 1, of('day'), of('hour'), of('minute'));
}
