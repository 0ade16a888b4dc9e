/** What a mark on a piece of work is. Coordinates of both axes are in widths of the surface that it lies on. */

export const MARK_KINDS = ['highlight', 'strike', 'note', 'text', 'pen'] as const;
/** highlight, strike: over text or an area. note: stands in the margin. text: stands on the work. pen: drawn. */
export type MarkKind = (typeof MARK_KINDS)[number];

export const INKS = ['plum', 'teal', 'umber', 'ink'] as const;
export type Ink = (typeof INKS)[number];

/** What a mark lies on: a page or a sheet of its file, a block of a document that flows, or the whole leaf. */
export const SURFACES = ['page', 'sheet', 'block', 'whole'] as const;
export interface Surface {
  on: (typeof SURFACES)[number];
  /** From 0. */
  index: number;
}

export type Point = [x: number, y: number];
export type Box = [x: number, y: number, width: number, height: number];
/** Pressure is 0 to 1; 0.5 where nothing is known of it. */
export type StrokePoint = [x: number, y: number, pressure: number];

/** Words of the work, where they stand in the text of the surface (of the leaf, for blocks), counted in UTF-16 units. */
export interface Quote {
  exact: string;
  prefix: string;
  suffix: string;
  start: number;
  end: number;
}

export interface WorkMark {
  kind: MarkKind;
  ink: Ink;
  surface: Surface;
  comment: string;
  /** Of what is struck: the better wording. */
  wording?: string;
  quote?: Quote;
  boxes?: Box[];
  /** Of a note and a text: where it stands. */
  at?: Point;
  strokes?: StrokePoint[][];
}

export const MOST = {
  comment: 4_000,
  quote: 10_000,
  context: 64,
  boxes: 400,
  strokes: 400,
  points: 20_000,
  /** Marks on one piece of work. */
  marks: 2_000,
  index: 20_000,
};
/** A long text is many widths high. */
const FARTHEST = 5_000;
/** Parts of a width that coordinates are kept in. */
const FINEST = 1e5;

const round = (n: number): number => Math.round(n * FINEST) / FINEST + 0;
const within = (n: number, most: number): number => round(Math.max(0, Math.min(most, n)));

/** A mark as it is kept: coordinates within its surface and rounded, no part that its kind does not have. */
export function tidyMark(mark: WorkMark): WorkMark {
  const { kind, ink, comment, quote, boxes, at, strokes } = mark;
  const areas = kind === 'highlight' || kind === 'strike';
  const surface = { on: mark.surface.on, index: mark.surface.on === 'whole' ? 0 : mark.surface.index };
  return {
    ...{ kind, ink, surface, comment },
    ...(kind === 'strike' && mark.wording ? { wording: mark.wording } : {}),
    ...(areas && quote ? { quote: { exact: quote.exact, prefix: quote.prefix, suffix: quote.suffix, start: quote.start, end: quote.end } } : {}), // prettier-ignore
    ...(areas && boxes && boxes.length > 0 ? { boxes: boxes.map(tidyBox) } : {}),
    ...((kind === 'note' || kind === 'text') && at ? { at: [within(at[0], 1), within(at[1], FARTHEST)] } : {}),
    ...(kind === 'pen' && strokes ? { strokes: strokes.filter((s) => s.length > 0).map(tidyStroke) } : {}),
  };
}

function tidyBox([x, y, width, height]: Box): Box {
  const [left, top] = [within(x, 1), within(y, FARTHEST)];
  return [left, top, within(width, 1 - left), within(height, FARTHEST - top)];
}

const tidyStroke = (points: StrokePoint[]): StrokePoint[] =>
  points.map(([x, y, p]): StrokePoint => [within(x, 1), within(y, FARTHEST), Math.round(Math.max(0, Math.min(1, p)) * 100) / 100]); // prettier-ignore

/** Why a tidy mark cannot be kept, in a sentence; null: it can. */
export function markFault(mark: WorkMark): string | null {
  const { kind, comment, quote, boxes, at, strokes, wording, surface } = mark;
  if (!Number.isInteger(surface.index) || surface.index < 0 || surface.index > MOST.index)
    return 'A mark lies on a page that no work has.';
  if (comment.length > MOST.comment || (wording?.length ?? 0) > MOST.comment)
    return `The words of a mark have ${MOST.comment} characters at most.`;
  const numbers = [...(boxes ?? []).flat(), ...(at ?? []), ...(strokes ?? []).flat(2)];
  if (numbers.some((n) => !Number.isFinite(n))) return 'A mark lies nowhere on its page.';
  if (quote) {
    if (quote.exact === '' || quote.exact.length > MOST.quote) return `A mark is over ${MOST.quote} characters at most, and over one at least.`; // prettier-ignore
    if (quote.prefix.length > MOST.context || quote.suffix.length > MOST.context || ![quote.start, quote.end].every(Number.isInteger) || quote.start < 0 || quote.end <= quote.start) return 'A mark’s place in the text is none.'; // prettier-ignore
  }
  if ((boxes?.length ?? 0) > MOST.boxes) return 'A mark covers more lines than one mark can.';
  switch (kind) {
    case 'highlight':
    case 'strike':
      return quote || boxes ? null : 'A mark is over words or over an area.';
    case 'note':
    case 'text':
      return at ? null : 'A note has a place on its page.';
    case 'pen': {
      const points = (strokes ?? []).reduce((n, s) => n + s.length, 0);
      if (points === 0) return 'Nothing was drawn.';
      return points > MOST.points || strokes!.length > MOST.strokes ? 'This is more than one mark can hold.' : null;
    }
  }
}

/** How far down it begins, in widths of its surface; null: its words say so. */
export function topOf(mark: WorkMark): number | null {
  if (mark.at) return mark.at[1];
  if (mark.boxes) return Math.min(...mark.boxes.map((b) => b[1]));
  return mark.strokes ? Math.min(...mark.strokes.flat().map((p) => p[1])) : null;
}

/** The same mark elsewhere on its surface. What is over words stays with them. */
export function movedMark(mark: WorkMark, dx: number, dy: number): WorkMark {
  if (mark.quote) return mark;
  // As far as all of it stays on the surface.
  const [left, top, right] = edges(mark);
  const [x, y] = [Math.max(-left, Math.min(1 - right, dx)), Math.max(-top, dy)];
  return tidyMark({
    ...mark,
    ...(mark.at ? { at: [mark.at[0] + x, mark.at[1] + y] } : {}),
    ...(mark.boxes ? { boxes: mark.boxes.map(([a, b, w, h]): Box => [a + x, b + y, w, h]) } : {}),
    ...(mark.strokes ? { strokes: mark.strokes.map((s) => s.map(([a, b, p]): StrokePoint => [a + x, b + y, p])) } : {}),
  });
}

type Extent = [left: number, top: number, right: number];

function edges(mark: WorkMark): Extent {
  const all = [
    ...(mark.at ? [[mark.at[0], mark.at[1], mark.at[0]] as Extent] : []),
    ...(mark.boxes ?? []).map(([x, y, w]): Extent => [x, y, x + w]),
    ...(mark.strokes ?? []).flat().map(([x, y]): Extent => [x, y, x]),
  ];
  return all.reduce<Extent>(
    ([l, t, r], [x, y, e]) => [Math.min(l, x), Math.min(t, y), Math.max(r, e)],
    [1, FARTHEST, 0],
  );
}

/** Where a quote stands in a text now: at its place, or where its words stand with the same before and after; null: nowhere. */
export function findQuote(text: string, q: Quote): { start: number; end: number } | null {
  if (text.slice(q.start, q.end) === q.exact) return { start: q.start, end: q.end };
  let best: number | null = null;
  let bestScore = -1;
  for (let at = text.indexOf(q.exact); at >= 0; at = text.indexOf(q.exact, at + 1)) {
    const before = commonEnd(text.slice(0, at), q.prefix);
    const after = commonStart(text.slice(at + q.exact.length), q.suffix);
    // What stands nearer to the old place wins among equals.
    const score = before + after - Math.min(0.9, Math.abs(at - q.start) / (text.length + 1));
    if (score > bestScore) [best, bestScore] = [at, score];
  }
  return best === null ? null : { start: best, end: best + q.exact.length };
}

function commonEnd(a: string, b: string): number {
  let n = 0;
  while (n < a.length && n < b.length && a[a.length - 1 - n] === b[b.length - 1 - n]) n++;
  return n;
}

function commonStart(a: string, b: string): number {
  let n = 0;
  while (n < a.length && n < b.length && a[n] === b[n]) n++;
  return n;
}

/** The quote of a stretch of a text, with what stands before and after. */
export function quoteOf(text: string, start: number, end: number): Quote {
  return {
    exact: text.slice(start, end),
    prefix: text.slice(Math.max(0, start - 32), start),
    suffix: text.slice(end, end + 32),
    ...{ start, end },
  };
}

/** As marks follow each other on one leaf, from its beginning to its end. */
export const comparePlaces = (a: WorkMark, b: WorkMark): number =>
  a.surface.index - b.surface.index ||
  (topOf(a) ?? 0) - (topOf(b) ?? 0) ||
  (a.quote?.start ?? 0) - (b.quote?.start ?? 0);
