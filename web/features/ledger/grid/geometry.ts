/** Sizes of the ledger in pixels, and which rows and columns a scroll position shows. */
export const ROW = 26;
export const ROOMY_ROW = 34;
const HEAD = 122;
/** Where there is little height: the titles alone. */
const LOW_HEAD = 44;
const LOW_ROOM = 330;

/** The height of the column heads in a room so high. */
export const headHeight = (room: number): number => (room < LOW_ROOM ? LOW_HEAD : HEAD);
export const STANDING = 178;
/** Where the percent line lies inside the standing. */
export const STANDING_BAR = { left: 12, width: 74 };
export const NARROWEST = 50;
/** Rows and columns that are drawn beyond what is in view, on each side: each costs time at every step of scrolling. */
export const BEYOND = 1;
export const WIDEST = 84;

/** The width of a column so that all fit where they can, and at least {@link NARROWEST} with sideways scrolling. */
export function columnWidth(room: number, columns: number, nameWidth: number): number {
  if (columns === 0) return WIDEST;
  const each = Math.floor((room - nameWidth - STANDING) / columns);
  // Too many to fit: then comfortable ones, as one scrolls anyway.
  return each < NARROWEST ? 62 : Math.min(WIDEST, each);
}

/** True where a deduction and a score beside each other are wider than their column: they then stand one over the other. */
export const mustStack = (score: string, taken: string, column: number): boolean =>
  taken !== '' && score.length * 7.9 + taken.length * 6.3 + 16 > column;

export interface Span {
  first: number;
  last: number;
}

/** The indexes at least partly inside [from, from + size), with some beyond on both sides. */
export function visible(from: number, size: number, each: number, count: number, beyond: number): Span {
  const first = Math.max(0, Math.floor(from / each) - beyond);
  const last = Math.min(count - 1, Math.ceil((from + size) / each) - 1 + beyond);
  return { first, last };
}

/**
 * The scroll position at which the piece [at, at + size) is inside a window of `room`: the one there is, or else one
 * with `ahead` beyond the piece, in the direction of going and not past the `end` of everything.
 */
export function reveal(
  scroll: number,
  room: number,
  at: number,
  size: number,
  { ahead = 0, end = Infinity }: { ahead?: number; end?: number } = {},
): number {
  if (at < scroll) return Math.max(0, at - ahead);
  if (at + size > scroll + room) return Math.max(0, Math.min(at + size + ahead, end) - room);
  return scroll;
}

export function range(first: number, last: number): number[] {
  return last < first ? [] : Array.from({ length: last - first + 1 }, (_, i) => first + i);
}

/** In the order of their slots: elements then never move in the document while they stay in use. */
export function inSlots(indexes: number[], slot: (index: number) => number): number[] {
  return indexes.sort((a, b) => slot(a) - slot(b));
}
