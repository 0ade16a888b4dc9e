/** A final grade as typed: a percentage, or else a letter. */
export function gradeIn(text: string): { percent: number | null; letter: string | null } {
  const percent = amountIn(text.replace(/%\s*$/, ''));
  return percent === null ? { percent: null, letter: text.trim() } : { percent, letter: null };
}

/** A number of at most four decimals that is not negative, with a point or a comma; null where it is none. */
export const amountIn = (text: string): number | null =>
  /^\d{1,9}([.,]\d{1,4})?$/.test(text.trim()) ? Number(text.trim().replace(',', '.')) : null;

/** "90, 80, 70": several numbers one after the other, a percent sign behind each or not; null where one is none. */
export function amountsIn(text: string): number[] | null {
  const words = text.split(/[;,]\s+|\s*;\s*|\s+/).filter(Boolean);
  const all = words.map((w) => amountIn(w.replace(/%$/, '')));
  return all.length > 0 && all.every((n) => n !== null) ? (all as number[]) : null;
}
