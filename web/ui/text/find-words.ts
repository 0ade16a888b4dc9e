/** Lower case without accents, so that "eklund" finds Éklund. */
export const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLocaleLowerCase();

/** How well a text goes with what was typed: 0 not at all, else the higher the better. Every word must occur. */
export function fits(text: string, typed: string): number {
  const words = plain(typed).split(/\s+/).filter(Boolean);
  if (words.length === 0) return 1;
  const all = plain(text);
  const parts = all.split(/[\s,·/]+/);
  let sum = 0;
  for (const word of words) {
    if (!all.includes(word)) return 0;
    sum += parts.some((p) => p === word) ? 4 : parts.some((p) => p.startsWith(word)) ? 3 : 1;
  }
  return sum / words.length + (all.startsWith(words[0]!) ? 1 : 0);
}

/** The entries that fit, the best first, those equally good in their order. */
export const found = <T extends { text: string; words?: string }>(
  entries: readonly T[],
  typed: string,
  most: number,
): T[] =>
  entries
    // What an entry is called comes before what is said in it.
    .map((entry, i) => ({ entry, i, fit: fits(entry.text, typed) || fits(entry.words ?? '', typed) / 100 }))
    .filter((e) => e.fit > 0)
    .sort((a, b) => b.fit - a.fit || a.i - b.i)
    .slice(0, most)
    .map((e) => e.entry);
