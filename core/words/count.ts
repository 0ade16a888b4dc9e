/** Words that go with a number, and lists of words, in the one language of the screens. */
const PLURAL = new Intl.PluralRules('en');
const LIST = new Intl.ListFormat('en-GB', { type: 'conjunction' });

/** The form that goes with a number, without the number: "is", "are". */
export const formOf = (n: number, one: string, other: string): string => (PLURAL.select(n) === 'one' ? one : other);

/** "1 score", "3 scores". */
export const counted = (n: number, one: string, other = `${one}s`): string => `${n} ${formOf(n, one, other)}`;

/** "a", "a and b", "a, b and c". */
export const listed = (texts: readonly string[]): string => LIST.format(texts);
