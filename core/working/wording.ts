import { counted } from '../words/count';
import { compare, fromNumber, toText, type Fraction } from '../exact/fraction';
import { shortText } from '../exact/rounding';

/** Small pieces of the sentences: figures, spans, moments, counting words. */
export const figure = (a: Fraction): string => {
  const short = shortText(a);
  return compare(fromNumber(Number(short)), a) === 0 ? short : `${short} (${toText(a)})`;
};

/** "exactly 5165/56", where two decimals are not the whole of it. */
export const exactly = (a: Fraction): string =>
  compare(fromNumber(Number(shortText(a))), a) === 0 ? '' : `exactly ${toText(a)}`;

/** The whole of it: at most four decimals as a decimal ("33.3333"), anything else as a fraction ("215/3"). */
export const exact = (a: Fraction): string => {
  const decimal = shortText(a, 4);
  return compare(fromNumber(Number(decimal)), a) === 0 ? decimal : toText(a);
};

export const short = (a: Fraction): string => shortText(a);

const ORDINALS = ['', 'first', 'second', 'third', 'fourth', 'fifth', 'sixth'];
export const ordinal = (n: number): string => ORDINALS[n] ?? `${n}th`;

const COUNTS = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine', 'ten'];
export const count = (n: number): string => COUNTS[n] ?? String(n);

/** "1 day 3 h", "45 min", "2 days": at most two parts, rounded up to the minute. */
export function span(millis: number): string {
  const minutes = Math.ceil(millis / 60_000);
  const days = Math.floor(minutes / 1440);
  const hours = Math.floor((minutes % 1440) / 60);
  const parts: string[] = [];
  if (days > 0) parts.push(counted(days, 'day'));
  if (hours > 0) parts.push(`${hours} h`);
  if (days === 0 && minutes % 60 > 0) parts.push(`${minutes % 60} min`);
  return parts.join(' ') || '0 min';
}

/** One for each zone: making them is what takes long, and a release says thousands of moments. */
const formats = new Map<string, Intl.DateTimeFormat>();

function formatIn(zone: string): Intl.DateTimeFormat {
  let format = formats.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      day: 'numeric',
      month: 'short',
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
    });
    formats.set(zone, format);
  }
  return format;
}

/** "12 Nov 17:00" in the book's time zone; the year is left out, a term is short. */
export function moment(zone: string, at: number): string {
  const parts = formatIn(zone).formatToParts(at);
  const of = (type: string): string => parts.find((p) => p.type === type)?.value ?? '';
  return `${of('day')} ${of('month').slice(0, 3)} ${of('hour')}:${of('minute')}`;
}
