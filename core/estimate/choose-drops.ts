import { fromNumber, divide, multiply, type Fraction } from '../exact/fraction';
import { chooseHighest, chooseLowest, type Choice } from '../calculation/drops';
import type { CompiledBook } from '../calculation/compile';
import { COMBINE } from './flat-tree';

/** The children of one group that count, side by side, for choosing what it drops. */
export interface DropScratch {
  count: number;
  /** Where the first cell of the student stands. */
  base: number;
  worth: Float64Array;
  share: Float64Array;
  droppable: Uint8Array;
  /** 1: an item whose earned points are an exact decimal, the nearest double of which is `earned`. */
  certain: Uint8Array;
  earned: Float64Array;
  /** Where the child stands among all children of the tree. */
  place: Int32Array;
  /** The answer: 1 for a child that is dropped. */
  out: Uint8Array;
  value: Float64Array;
  order: Int32Array;
}

export function makeDropScratch(widest: number): DropScratch {
  const doubles = (): Float64Array => new Float64Array(widest);
  return {
    count: 0,
    base: 0,
    worth: doubles(),
    share: doubles(),
    droppable: new Uint8Array(widest),
    certain: new Uint8Array(widest),
    earned: doubles(),
    place: new Int32Array(widest),
    out: new Uint8Array(widest),
    value: doubles(),
    order: new Int32Array(widest),
  };
}

/** A little more than 2^-53, so that bounds hold with their own rounding. */
export const U = 1.2e-16;
const LIMIT = Number.MAX_SAFE_INTEGER;
/** Pairs compared one by one at a boundary before the exact way is quicker. */
const PAIRS = 64;

/**
 * What a group drops (contract, section 5, step 2), into `out`. False: doubles and cheap exact comparisons could not
 * tell, and children are no decimals, so that the student must be worked out in fractions.
 */
export function chooseDrops(compiled: CompiledBook, g: number, s: DropScratch): boolean {
  const { flat } = compiled;
  const m = s.count;
  let droppable = 0;
  let error = 0;
  for (let j = 0; j < m; j++) {
    s.out[j] = 0;
    droppable += s.droppable[j]!;
    error = Math.max(error, flat.childError[s.place[j]!]!);
  }
  const wanted = flat.keepBest[g]! > 0 ? Math.max(0, droppable - flat.keepBest[g]!) : flat.lowest[g]!;
  const low = Math.min(wanted, droppable, m - 1);
  const high = Math.min(flat.highest[g]!, droppable - low, m - 1 - low);
  if (low <= 0 && high <= 0) return true;
  // v = worth − r × share: worth and share are off by at most `error`, r by twice that and the terms of its two sums.
  const bound = U * (3 * error + 2 * m + 8);
  const sure =
    (low <= 0 || (low === 1 ? lowestOne(compiled, g, s, bound) : lowest(compiled, g, s, low, bound))) &&
    (high <= 0 || highest(compiled, g, s, high, U * 2 * (error + 2)));
  return sure || exactly(compiled, g, s, low, high);
}

/**
 * One child to drop, by far the most frequent rule: Dinkelbach's iteration (see {@link chooseLowest}) and then the
 * proof that nobody else lies as low, by more than doubles can be off, or by an exact comparison.
 */
function lowestOne(compiled: CompiledBook, g: number, s: DropScratch, bound: number): boolean {
  const { worth, share, droppable, count } = s;
  let r = ratioWithout(worth, share, count, -1);
  let last = -1;
  for (let turn = 0; turn < 40; turn++) {
    let best = -1;
    let least = Infinity;
    for (let j = 0; j < count; j++) {
      const v = worth[j]! - r * share[j]!;
      if (v < least && droppable[j] === 1) {
        least = v;
        best = j;
      }
    }
    if (best === last) {
      s.out[best] = 1;
      const top = least + bound * (worth[best]! + r * share[best]!);
      for (let j = 0; j < count; j++) {
        const w = worth[j]!;
        const rs = r * share[j]!;
        if (w - rs - bound * (w + rs) <= top && j !== best && droppable[j] === 1 && !isBelow(compiled, g, s, best, j))
          return false;
      }
      return true;
    }
    last = best;
    r = ratioWithout(worth, share, count, best);
  }
  return false;
}

function ratioWithout(worth: Float64Array, share: Float64Array, count: number, out: number): number {
  let above = 0;
  let below = 0;
  for (let j = 0; j < count; j++)
    if (j !== out) {
      above += worth[j]!;
      below += share[j]!;
    }
  return above / below;
}

/** Sums over those that are not out. */
function ratioLeft(s: DropScratch): number {
  let worth = 0;
  let share = 0;
  for (let j = 0; j < s.count; j++)
    if (s.out[j] === 0) {
      worth += s.worth[j]!;
      share += s.share[j]!;
    }
  return worth / share;
}

/** The same for several: everybody out must lie below everybody who stays. */
function lowest(compiled: CompiledBook, g: number, s: DropScratch, n: number, bound: number): boolean {
  let r = ratioLeft(s);
  for (let turn = 0; turn < 40; turn++) {
    for (let j = 0; j < s.count; j++) s.value[j] = s.worth[j]! - r * s.share[j]!;
    if (!pick(s, n))
      return separate(
        s,
        (j) => bound * (s.worth[j]! + r * s.share[j]!),
        (a, b) => isBelow(compiled, g, s, a, b),
      );
    r = ratioLeft(s);
  }
  return false;
}

/** Marks the n droppable with the least value, earlier first, as out. True where that is another set than before. */
function pick(s: DropScratch, n: number): boolean {
  const { value, droppable, out } = s;
  let k = 0;
  for (let j = 0; j < s.count; j++) if (droppable[j] === 1) s.order[k++] = j;
  s.order.subarray(0, k).sort((a, b) => value[a]! - value[b]! || a - b);
  let changed = false;
  for (let i = 0; i < k; i++) {
    const j = s.order[i]!;
    const is = i < n ? 1 : 0;
    if (out[j] !== is) changed = true;
    out[j] = is;
  }
  return changed;
}

/**
 * True where every droppable child that is out (by `value`) surely lies below every one that stays. `off(j)`: how far
 * `value` of j may be from the truth. `below(a, b)`: an exact look at a pair that is too close.
 */
function separate(s: DropScratch, off: (j: number) => number, below: (a: number, b: number) => boolean): boolean {
  const { value, droppable, out } = s;
  let top = -Infinity;
  let bottom = Infinity;
  for (let j = 0; j < s.count; j++) {
    if (droppable[j] === 0) continue;
    if (out[j] === 1) top = Math.max(top, value[j]! + off(j));
    else if (out[j] === 0) bottom = Math.min(bottom, value[j]! - off(j));
  }
  if (top < bottom) return true;
  let pairs = 0;
  for (let a = 0; a < s.count; a++) {
    if (droppable[a] === 0 || out[a] !== 1 || value[a]! + off(a) < bottom) continue;
    for (let b = 0; b < s.count; b++) {
      if (droppable[b] === 0 || out[b] !== 0 || value[a]! + off(a) < value[b]! - off(b)) continue;
      if (++pairs > PAIRS || !below(a, b)) return false;
    }
  }
  return true;
}

/** True where a is surely below b in worth − r × share, or equal and earlier. */
function isBelow(compiled: CompiledBook, g: number, s: DropScratch, a: number, b: number): boolean {
  if (s.certain[a] === 0 || s.certain[b] === 0) return false;
  if (s.share[a] === s.share[b]) {
    // r plays no part: the worths decide, which with equal shares are as the ratios are.
    const sign = compareRatios(compiled, s, a, b);
    return sign < 0 || (sign === 0 && a < b);
  }
  return compiled.flat.combine[g] === COMBINE.points && isBelowInPoints(s, a, b);
}

const tenThousandths = (x: number): number => Math.round(x * 10_000);
const pointsOf = (compiled: CompiledBook, s: DropScratch, j: number): number =>
  compiled.flat.points[compiled.flat.child[s.place[j]!]!]!;

/** Sign of earned / points of item a less that of item b, exact; NaN where it does not fit into whole doubles. */
function compareRatios(compiled: CompiledBook, s: DropScratch, a: number, b: number): number {
  const left = tenThousandths(s.earned[a]!) * tenThousandths(pointsOf(compiled, s, b));
  const right = tenThousandths(s.earned[b]!) * tenThousandths(pointsOf(compiled, s, a));
  return left <= LIMIT && right <= LIMIT ? left - right : NaN;
}

/** (worth a − worth b) × Σ share of those that stay, against Σ worth × (share a − share b), in whole doubles. */
function isBelowInPoints(s: DropScratch, a: number, b: number): boolean {
  let worth = 0;
  let share = 0;
  for (let j = 0; j < s.count; j++) {
    if (s.out[j] === 1) continue;
    if (s.certain[j] === 0) return false;
    worth += tenThousandths(s.worth[j]!);
    share += tenThousandths(s.share[j]!);
  }
  const left = (tenThousandths(s.worth[a]!) - tenThousandths(s.worth[b]!)) * share;
  const right = worth * (tenThousandths(s.share[a]!) - tenThousandths(s.share[b]!));
  if (!(Math.abs(left) <= LIMIT && Math.abs(right) <= LIMIT && worth <= LIMIT)) return false;
  return left < right || (left === right && a < b);
}

/** The n highest by ratio of those that stay and can be dropped, the earlier first. */
function highest(compiled: CompiledBook, g: number, s: DropScratch, n: number, bound: number): boolean {
  const { out, droppable, value } = s;
  // Turned over, the highest are the lowest. Those that are out already stand aside (2).
  const mode = compiled.flat.combine[g];
  for (let j = 0; j < s.count; j++) {
    value[j] = mode === COMBINE.equal ? -s.worth[j]! : -s.worth[j]! / s.share[j]!;
    if (out[j] === 1) out[j] = 2;
  }
  for (let k = 0; k < n; k++) {
    let best = -1;
    for (let j = 0; j < s.count; j++)
      if (droppable[j] === 1 && out[j] === 0 && (best < 0 || value[j]! < value[best]!)) best = j;
    out[best] = 1;
  }
  const certain = separate(
    s,
    (j) => -bound * value[j]!,
    (a, b) => {
      if (s.certain[a] === 0 || s.certain[b] === 0) return false;
      const sign = compareRatios(compiled, s, b, a);
      return sign < 0 || (sign === 0 && a < b);
    },
  );
  for (let j = 0; j < s.count; j++) if (out[j] === 2) out[j] = 1;
  return certain;
}

/** The same choice in fractions, where every child is an item with a decimal. */
function exactly(compiled: CompiledBook, g: number, s: DropScratch, low: number, high: number): boolean {
  const children: (Choice & { at: number })[] = [];
  for (let j = 0; j < s.count; j++) {
    if (s.certain[j] === 0) return false;
    const earned = fromNumber(s.earned[j]!);
    const points = fromNumber(pointsOf(compiled, s, j));
    const ratio = divide(earned, points);
    const share = fromNumber(s.share[j]!);
    const worth: Fraction = compiled.flat.combine[g] === COMBINE.points ? earned : multiply(ratio, share);
    children.push({ at: j, ratio, share, earned: worth, droppable: s.droppable[j] === 1 });
  }
  s.out.fill(0, 0, s.count);
  const lowOut = chooseLowest(children, low);
  for (const c of lowOut) s.out[c.at] = 1;
  for (const c of chooseHighest(
    children.filter((c) => s.out[c.at] === 0),
    high,
  ))
    s.out[c.at] = 1;
  return true;
}
