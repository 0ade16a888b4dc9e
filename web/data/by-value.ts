/** For a computed value that is made anew with the book: what says the same is the same, and nothing follows from it. */
export const BY_VALUE = { equal: (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b) };
