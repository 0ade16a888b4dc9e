import { readDay as readMoment } from '../../../ui/text/read-day';

/** Dates without a time, as people type them: "24 Dec 2026, 1 Jan 2027", "2026-12-24", "24 Dec 2026 to 2 Jan 2027". */
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const SHORT = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

const DAY = 86_400_000;
/** Days of one span at most. */
const LONGEST = 366;

const one = (d: string): string => `${Number(d.slice(8))} ${SHORT[Number(d.slice(5, 7)) - 1]} ${d.slice(0, 4)}`;

/** "21 Dec 2026 to 3 Jan 2027, 8 Feb 2027" from ISO dates: three days on end and more are a span. */
export function dayWords(dates: readonly string[]): string {
  const runs: [string, string, number][] = [];
  for (const d of [...dates].sort()) {
    const last = runs[runs.length - 1];
    if (last && Date.parse(d) - Date.parse(last[1]) === DAY) [last[1], last[2]] = [d, last[2] + 1];
    else runs.push([d, d, 1]);
  }
  return runs
    .map(([from, to, n]) => (n === 1 ? one(from) : `${one(from)}${n === 2 ? ', ' : ' to '}${one(to)}`))
    .join(', ');
}

function readDay(text: string): string | null {
  const iso = /^(\d{4})-(\d\d)-(\d\d)$/.exec(text);
  const said = /^(\d{1,2})\.?\s+([a-z]{3,9})\.?\s+(\d{4})$/i.exec(text);
  const parts = iso
    ? [Number(iso[1]), Number(iso[2]), Number(iso[3])]
    : said
      ? [Number(said[3]), MONTHS.indexOf(said[2]!.slice(0, 3).toLowerCase()) + 1, Number(said[1])]
      : null;
  if (!parts || parts[1] === 0) return readOtherwise(text);
  if (parts[0]! < 1900 || parts[0]! > 2999) return null;
  const [year, month, day] = parts as [number, number, number];
  const date = new Date(Date.UTC(year, month - 1, day));
  const real = date.getUTCFullYear() === year && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
  return real ? date.toISOString().slice(0, 10) : null;
}

/** As people write days elsewhere, by their locale: "24. Dezember 2026", "12/24/2026". Never without its year. */
function readOtherwise(text: string): string | null {
  if (!/\b\d{4}\b/.test(text)) return null;
  const moment = readMoment(text, { zone: 'UTC', near: '2026-01-01T12:00:00Z', like: '2026-01-01T12:00:00Z' });
  const day = moment?.slice(0, 10) ?? null;
  return day !== null && day >= '1900' && day < '3000' ? day : null;
}

/** A date, or a span of them: "21 Dec 2026 to 3 Jan 2027", also with a dash between. */
function readSpan(text: string): string[] | { message: string } {
  const whole = readDay(text);
  if (whole !== null) return [whole];
  const ends = text.split(/\s+to\s+|\s*[–—]\s*|\s+-\s+/);
  const none = ends.map(readDay).indexOf(null);
  if (ends.length !== 2 || none >= 0)
    return { message: `“${none >= 0 ? ends[none]! : text}” is no date with its year, such as 24 Dec 2026.` };
  const [from, to] = ends.map((e) => Date.parse(readDay(e)!)) as [number, number];
  if (to < from) return { message: `“${text}” ends before it begins.` };
  if ((to - from) / DAY >= LONGEST) return { message: `“${text}” is longer than a year.` };
  const days = Math.round((to - from) / DAY) + 1;
  return Array.from({ length: days }, (_, n) => new Date(from + n * DAY).toISOString().slice(0, 10));
}

/** The dates in their order, each once, or why they cannot be read. */
export function readDays(text: string): { dates: string[] } | { message: string } {
  const dates = new Set<string>();
  for (const piece of text.split(/[,;\n]/).map((p) => p.trim())) {
    if (piece === '') continue;
    const span = readSpan(piece);
    if ('message' in span) return span;
    for (const date of span) dates.add(date);
  }
  return { dates: [...dates].sort() };
}
