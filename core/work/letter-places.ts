/** What a letter's words may leave open, filled in for each student: written in braces, as "{given}". */
export const LETTER_PLACES = ['given', 'family', 'assessment', 'due'] as const;
export type LetterPlace = (typeof LETTER_PLACES)[number];

const PLACE = /\{([^{}\n]{0,40})\}/g;

/** What stands in braces and is no place, each once, without its braces. */
export function unknownPlaces(words: string): string[] {
  const named = [...words.matchAll(PLACE)].map((m) => m[1]!);
  return [...new Set(named.filter((n) => !(LETTER_PLACES as readonly string[]).includes(n)))];
}

/** The places that the words name. */
export const namedPlaces = (words: string): LetterPlace[] => LETTER_PLACES.filter((p) => words.includes(`{${p}}`));

/** The words with every place filled in. What is filled in is never looked through again. */
export const fillLetter = (words: string, values: Record<LetterPlace, string>): string =>
  words.replace(PLACE, (all, name: string) => (Object.hasOwn(values, name) ? values[name as LetterPlace] : all));
