/** Dates without a time, as people type a list of them: "24 Dec 2026, 1 Jan 2027" or "2026-12-24". */
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const SHORT = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** "24 Dec 2026, 1 Jan 2027" from ISO dates. */
export const dayWords = (dates: readonly string[]): string =>
  dates.map((d) => `${Number(d.slice(8))} ${SHORT[Number(d.slice(5, 7)) - 1]} ${d.slice(0, 4)}`).join(', ');

function readDay(text: string): string | null {
  const iso = /^(\d{4})-(\d\d)-(\d\d)$/.exec(text);
  const said = /^(\d{1,2})\.?\s+([a-z]{3,9})\.?\s+(\d{4})$/i.exec(text);
  const parts = iso
    ? [Number(iso[1]), Number(iso[2]), Number(iso[3])]
    : said
      ? [Number(said[3]), MONTHS.indexOf(said[2]!.slice(0, 3).toLowerCase()) + 1, Number(said[1])]
      : null;
  if (!parts || parts[0]! < 1900 || parts[0]! > 2999) return null;
  const [year, month, day] = parts as [number, number, number];
  const date = new Date(Date.UTC(year, month - 1, day));
  const real = date.getUTCFullYear() === year && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
  return real ? date.toISOString().slice(0, 10) : null;
}

/** The dates in their order, each once, or the first that is none. */
export function readDays(text: string): { dates: string[] } | { says: string } {
  const dates = new Set<string>();
  for (const piece of text.split(/[,;\n]/).map((p) => p.trim())) {
    if (piece === '') continue;
    const date = readDay(piece);
    if (date === null) return { says: `“${piece}” is no date with its year, such as 24 Dec 2026.` };
    dates.add(date);
  }
  return { dates: [...dates].sort() };
}
