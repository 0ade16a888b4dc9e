/** The children of one group that count, side by side, for choosing what it drops. */
export interface DropScratch {
  count: number;
  worth: Float64Array;
  share: Float64Array;
  /** It can be dropped as one of the lowest; as one of the highest. */
  droppable: Uint8Array;
  droppableHigh: Uint8Array;
  /** 1: earned points are an exact decimal, the nearest double of which is `earned`, out of `outOf`, exact as well. */
  certain: Uint8Array;
  earned: Float64Array;
  outOf: Float64Array;
  /** How many can be dropped as one of the lowest. */
  mayDrop: number;
  /** How many are neither always kept nor stand in for others; and how many stand in. */
  free: number;
  standing: number;
  /** Over those that count, after drops over those that stay; and of extra credit. */
  sumWorth: number;
  sumShare: number;
  extra: number;
  /** Σ worth / Σ share of all of them. */
  ratio: number;
  /** All have the same share. */
  isEven: boolean;
  /** Where the child stands among all children of the tree. */
  place: Int32Array;
  /** The answer: 1 for a child that is dropped; before it 0 for all. */
  out: Uint8Array;
  value: Float64Array;
  order: Int32Array;
  /** Of them those that are open, the first `opens` of the list. */
  open: Int32Array;
  opens: number;
}

export function makeDropScratch(widest: number): DropScratch {
  const doubles = (): Float64Array => new Float64Array(widest);
  return {
    count: 0,
    worth: doubles(),
    share: doubles(),
    droppable: new Uint8Array(widest),
    droppableHigh: new Uint8Array(widest),
    certain: new Uint8Array(widest),
    earned: doubles(),
    outOf: doubles(),
    mayDrop: 0,
    free: 0,
    standing: 0,
    ...{ sumWorth: 0, sumShare: 0, extra: 0 },
    ratio: NaN,
    isEven: false,
    place: new Int32Array(widest),
    out: new Uint8Array(widest),
    value: doubles(),
    order: new Int32Array(widest),
    open: new Int32Array(widest),
    opens: 0,
  };
}
