/** RFC 3339 with an offset, at most three decimals of a second (contract, section 1). */
const SHAPE = /^(\d{4})-(\d{2})-(\d{2})[Tt](\d{2}):(\d{2}):(\d{2})(?:\.(\d{1,3}))?([Zz]|[+-]\d{2}:\d{2})$/;
const LENGTHS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];

/** Days in a month of a year, Gregorian. Month 1 to 12. */
export function daysInMonth(year: number, month: number): number {
  const leap = year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0);
  return month === 2 && leap ? 29 : LENGTHS[month - 1]!;
}

/**
 * Days from 1970-01-01 to a date, Gregorian, for years from 1 on. Years are taken to begin in March, so that a leap day
 * is the last of its year and months need no table (the usual proleptic count of days).
 */
export function daysTo(year: number, month: number, day: number): number {
  const y = month <= 2 ? year - 1 : year;
  const m = month <= 2 ? month + 9 : month - 3;
  return (
    365 * y +
    Math.floor(y / 4) -
    Math.floor(y / 100) +
    Math.floor(y / 400) +
    Math.floor((153 * m + 2) / 5) +
    day -
    719_469
  );
}

/**
 * Milliseconds since 1970-01-01T00:00:00Z, or null where the text is no moment of the years 1900 to 2999.
 * The year is that of the text as written, before its offset is taken off.
 */
export function parseMoment(text: string): number | null {
  if (text.length === 20 && text.charCodeAt(19) === 90) return parseUtc(text, 0);
  if (text.length !== 24 || text.charCodeAt(23) !== 90 || text.charCodeAt(19) !== 46) return parseAny(text);
  return parseUtc(text, two(text, 20) * 10 + (two(text, 21) % 10));
}

/**
 * `2027-01-15T12:00:00Z` or `2027-01-15T12:00:00.250Z`, the usual forms, digit by digit: books hold one for every piece
 * of work.
 */
function parseUtc(text: string, millis: number): number | null {
  const year = two(text, 0) * 100 + two(text, 2);
  const month = two(text, 5);
  const day = two(text, 8);
  const hour = two(text, 11);
  const minute = two(text, 14);
  const second = two(text, 17);
  // A place that is no digit makes its figure NaN, which no comparison below lets pass.
  if (!(year >= 1900 && year <= 2999 && month >= 1 && month <= 12 && day >= 1 && day <= daysInMonth(year, month)))
    return null;
  if (!(hour <= 23 && minute <= 59 && second <= 59)) return null;
  const t = text.charCodeAt(10);
  if (text.charCodeAt(4) !== 45 || text.charCodeAt(7) !== 45 || (t !== 84 && t !== 116)) return null;
  if (text.charCodeAt(13) !== 58 || text.charCodeAt(16) !== 58) return null;
  if (!(millis >= 0)) return null;
  return daysTo(year, month, day) * 86_400_000 + ((hour * 60 + minute) * 60 + second) * 1000 + millis;
}

function two(text: string, at: number): number {
  const tens = text.charCodeAt(at) - 48;
  const ones = text.charCodeAt(at + 1) - 48;
  return tens >= 0 && tens <= 9 && ones >= 0 && ones <= 9 ? tens * 10 + ones : NaN;
}

function parseAny(text: string): number | null {
  const m = SHAPE.exec(text);
  if (!m) return null;
  const [year, month, day, hour, minute, second] = m.slice(1, 7).map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  if (year < 1900 || year > 2999 || month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return null;
  if (hour > 23 || minute > 59 || second > 59) return null;
  const zone = m[8]!;
  let offset = 0;
  if (zone !== 'Z' && zone !== 'z') {
    const hours = Number(zone.slice(1, 3));
    const minutes = Number(zone.slice(4, 6));
    if (hours > 23 || minutes > 59) return null;
    offset = (zone[0] === '-' ? -1 : 1) * (hours * 60 + minutes);
  }
  const millis = Number((m[7] ?? '0').padEnd(3, '0'));
  const time = ((hour * 60 + minute) * 60 + second) * 1000 + millis;
  return daysTo(year, month, day) * 86_400_000 + time - offset * 60_000;
}

const FIRST = Date.UTC(1900, 0, 1);
const LAST = Date.UTC(3000, 0, 1) - 1;

/**
 * Milliseconds since 1970-01-01T00:00:00Z as text that `parseMoment` reads. What was worked out (a due date and a
 * student's extra time) may lie beyond the years 1900 to 2999; then it is the first or the last moment of them.
 */
export const formatMoment = (millis: number): string =>
  new Date(Math.min(Math.max(Math.round(millis), FIRST), LAST)).toISOString();

/** A `YYYY-MM-DD` text as days since 1970-01-01, or null where there is no such day. */
export function parseDate(text: string): number | null {
  const m = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  if (!m) return null;
  const [year, month, day] = [Number(m[1]), Number(m[2]), Number(m[3])];
  if (month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return null;
  return daysTo(year, month, day);
}

/** A time of at most four decimals in hours or minutes, as whole milliseconds: exact, whatever the decimals. */
export const hoursToMillis = (hours: number): number => Math.round(hours * 10_000) * 360;
export const minutesToMillis = (minutes: number): number => Math.round(minutes * 10_000) * 6;
