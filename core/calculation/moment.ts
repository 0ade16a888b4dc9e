/** RFC 3339 with an offset, at most three decimals of a second (contract, section 1). */
const SHAPE = /^(\d{4})-(\d{2})-(\d{2})[Tt](\d{2}):(\d{2}):(\d{2})(?:\.(\d{1,3}))?([Zz]|[+-]\d{2}:\d{2})$/;

/** Days in a month of a year, Gregorian. Month 1 to 12. */
export function daysInMonth(year: number, month: number): number {
  return new Date(Date.UTC(2000 + (year % 400), month, 0)).getUTCDate();
}

/**
 * Milliseconds since 1970-01-01T00:00:00Z, or null where the text is no moment of the years 1900 to 2999.
 * The year is that of the text as written, before its offset is taken off.
 */
export function parseMoment(text: string): number | null {
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
  return Date.UTC(year, month - 1, day, hour, minute, second, millis) - offset * 60_000;
}

/** A `YYYY-MM-DD` text that names a day that exists. */
export function isDate(text: string): boolean {
  const m = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  if (!m) return false;
  const [year, month, day] = [Number(m[1]), Number(m[2]), Number(m[3])];
  return month >= 1 && month <= 12 && day >= 1 && day <= daysInMonth(year, month);
}
