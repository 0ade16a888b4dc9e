/** A note of the margin: where it belongs and how high it is, in CSS pixels. */
export interface MarginPlace {
  id: string;
  top: number;
  height: number;
}

/** Pixels between two notes. */
const GAP = 6;

/** The part of the margin that is seen: from where to where, and how far down the work beside it is seen. */
export interface SeenMargin {
  from: number;
  to: number;
  workTo: number;
}

/**
 * Where notes stand beside each other's lines without lying on each other: each as near below its place as there is room.
 * The one that is chosen stands at its place, and those before it make room upwards. Where the margin is shorter than the work beside it, notes of
 * the lines that are seen move up as far as they must to be seen too.
 */
export function stackNotes(notes: readonly MarginPlace[], chosen: string, seen?: SeenMargin): Map<string, number> {
  const sorted = [...notes].sort((a, b) => a.top - b.top || (a.id < b.id ? -1 : 1));
  const tops = sorted.map((n) => n.top);
  const at = sorted.findIndex((n) => n.id === chosen);
  const down = (from: number): void => {
    for (let i = from; i < sorted.length; i++)
      if (i > 0) tops[i] = Math.max(tops[i]!, tops[i - 1]! + sorted[i - 1]!.height + GAP);
  };
  down(0);
  if (at >= 0) {
    tops[at] = sorted[at]!.top;
    for (let i = at - 1; i >= 0; i--) tops[i] = Math.min(tops[i]!, tops[i + 1]! - sorted[i]!.height - GAP);
    for (let i = at + 1; i < sorted.length; i++) tops[i] = sorted[i]!.top;
    down(at + 1);
  }
  if (seen) {
    let below = seen.to;
    for (let i = sorted.findLastIndex((n) => n.top < seen.workTo); i >= 0; i--) {
      const top = Math.min(tops[i]!, below - sorted[i]!.height);
      // Nothing else is in the way, or this line is not seen itself.
      if (top === tops[i] || sorted[i]!.top < seen.from) break;
      tops[i] = top;
      below = top - GAP;
    }
  }
  return new Map(sorted.map((n, i) => [n.id, tops[i]!]));
}
