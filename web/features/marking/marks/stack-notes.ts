/** A note of the margin: where it belongs and how high it is, in CSS pixels. */
export interface MarginPlace {
  id: string;
  top: number;
  height: number;
}

/** Pixels between two notes. */
const GAP = 6;

/**
 * Where notes stand beside each other's lines without lying on each other: each as near below its place as there is room.
 * The one that is chosen stands at its place, and those before it make room upwards.
 */
export function stackNotes(notes: readonly MarginPlace[], chosen: string): Map<string, number> {
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
  return new Map(sorted.map((n, i) => [n.id, tops[i]!]));
}
