/** How a group combines, and what its children are, as numbers. */
export const COMBINE = { points: 0, weights: 1, equal: 2, median: 3, decaying: 4 } as const;
export const CHILD = { extra: 1, kept: 2, idle: 4, also: 8, stands: 16 } as const;

/** The three ways of section 7: as it is, every open item at nothing, every open item at full points. */
export const PASS = { now: 0, low: 1, high: 2 } as const;
export type Pass = 0 | 1 | 2;

/** What skipped items are taken for: see `Fill` in calculation/groups.ts. */
export const FILL = { none: 0, blanks: 1, pieces: 2 } as const;
export type FillCode = 0 | 1 | 2;
