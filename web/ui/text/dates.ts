import { counted } from '@core/words/count';
import { decimalMark, locale } from './locale';

/** Dates as people read them here, in the book's time zone and their own way. Years are left out: a term is short. */
const formats = new Map<string, Intl.DateTimeFormat>();

function format(tag: string, zone: string, options: Intl.DateTimeFormatOptions, key: string): Intl.DateTimeFormat {
  const k = `${tag} ${zone} ${key}`;
  let f = formats.get(k);
  if (!f) formats.set(k, (f = new Intl.DateTimeFormat(tag, { timeZone: zone, ...options })));
  return f;
}

const short = (text: string): string => text.replace('Sept', 'Sep');

/** "27 Nov" */
export const day = (at: string | number, zone: string): string =>
  short(format(locale(), zone, { day: 'numeric', month: 'short' }, 'day').format(new Date(at)));

/** "17:00" */
export const time = (at: string | number, zone: string): string =>
  format('en-GB', zone, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }, 'time').format(new Date(at));

/** "27 Nov 17:00" */
export const dayAndTime = (at: string | number, zone: string): string => `${day(at, zone)} ${time(at, zone)}`;

/** "27 Nov 2026" */
export const dayAndYear = (at: string | number, zone: string): string =>
  short(format(locale(), zone, { day: 'numeric', month: 'short', year: 'numeric' }, 'year').format(new Date(at)));

/** "Tuesday 24 November" */
export const longDay = (at: string | number, zone: string): string =>
  unpunctuated(format(locale(), zone, { weekday: 'long', day: 'numeric', month: 'long' }, 'long').format(new Date(at)));

/** "Tuesday 24 November 2026" */
export const fullDay = (at: string | number, zone: string): string =>
  unpunctuated(
    format(locale(), zone, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' }, 'full').format(
      new Date(at),
    ),
  );

const unpunctuated = (text: string): string => (locale() === 'en-GB' ? text.replace(',', '') : text);

/** How far the school's clock is before this machine's, in milliseconds. */
let ahead = 0;

/** What the school's clock says now; null: nobody is signed in, and this machine's clock is as good. */
export const setSchoolClock = (now: string | null): void => void (ahead = now ? Date.parse(now) - Date.now() : 0);

/** The moment now, by the school's clock. */
export const schoolNow = (): string => new Date(Date.now() + ahead).toISOString();

/** "20:41:07", by the school's clock, as this machine's zone has it. */
export const clock = (): string => new Date(schoolNow()).toLocaleTimeString('en-GB', { hour12: false });

/** "8 days", "today": how long ago, in whole days. */
export function ago(at: string, now: string): string {
  const days = Math.floor((Date.parse(now) - Date.parse(at)) / 86_400_000);
  return days <= 0 ? 'today' : counted(days, 'day');
}

/** What a way of writing looks like: "4 Dec 17:00, 12.5". */
export const example = (tag: string): string =>
  `${short(format(tag, 'UTC', { day: 'numeric', month: 'short' }, 'day').format(Date.UTC(2026, 11, 4)))} 17:00, 12${decimalMark(tag)}5`;

/** The moment at which the zone's clock shows the given local time. */
export function inZone(year: number, month: number, date: number, hour: number, minute: number, zone: string): number {
  const wanted = Date.UTC(year, month - 1, date, hour, minute);
  let at = wanted;
  for (let i = 0; i < 3; i++) at += wanted - shownAt(at, zone);
  return at;
}

/** What the zone's clock shows at a moment, as if it were UTC. */
export function shownAt(at: number, zone: string): number {
  const p = format(
    'en-GB',
    zone,
    { year: 'numeric', month: 'numeric', day: 'numeric', hour: 'numeric', minute: 'numeric', hourCycle: 'h23' },
    'parts',
  ).formatToParts(at);
  const of = (type: string): number => Number(p.find((x) => x.type === type)!.value);
  return Date.UTC(of('year'), of('month') - 1, of('day'), of('hour'), of('minute'));
}

/** "today 17:00", "tomorrow 17:00", "Mon 17:00" within six days, else "27 Nov 17:00". */
export function soon(at: string, now: string, zone: string): string {
  const dayNumber = (moment: string): number => Math.floor(shownAt(Date.parse(moment), zone) / 86_400_000);
  const days = dayNumber(at) - dayNumber(now);
  if (days === -1) return `yesterday ${time(at, zone)}`;
  if (days === 0) return `today ${time(at, zone)}`;
  if (days === 1) return `tomorrow ${time(at, zone)}`;
  if (days < 0 || days > 6) return dayAndTime(at, zone);
  return `${format(locale(), zone, { weekday: 'short' }, 'weekday').format(new Date(at))} ${time(at, zone)}`;
}
