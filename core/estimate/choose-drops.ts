import { fromNumber, divide, multiply } from '../exact/fraction';
import { chooseHighest, chooseLowest, type Choice } from '../calculation/drops';
import { COMBINE } from './codes';
import type { DropScratch } from './drop-scratch';
import type { FlatTree } from './flat-tree';

/** A little more than 2^-53, so that bounds hold with their own rounding. */
export const U = 1.2e-16;
const LIMIT = Number.MAX_SAFE_INTEGER;
/** Pairs compared one by one at a boundary before the exact way is quicker. */
const PAIRS = 64;

/**
 * What a group drops (contract, section 5, step 2), into `out`. False: doubles and cheap exact comparisons could not
 * tell, and children are no decimals, so that the student must be worked out in fractions.
 */
export function chooseDrops(flat: FlatTree, g: number, s: DropScratch): boolean {
  const m = s.count;
  const error = flat.worstChildError[g]!;
  const keepBest = flat.keepBest[g]!;
  const wanted = (keepBest > 0 ? Math.max(0, s.free - keepBest) : flat.lowest[g]!) + s.standing;
  const low = Math.min(wanted, s.mayDrop, m - 1);
  const mostHigh = Math.min(flat.highest[g]!, m - 1 - low);
  if (low <= 0 && mostHigh <= 0) return true;
  // v = worth − r × share: worth and share are off by at most `error`, r by twice that and the terms of its two sums.
  const bound = U * (3 * error + 2 * m + 8);
  const sure =
    (low <= 0 || (low === 1 ? lowestOne(flat, g, s, bound) : lowest(flat, g, s, low, bound))) &&
    (mostHigh <= 0 || highest(flat, g, s, mostHigh, U * 2 * (error + 2)));
  return sure || exactly(s, low, mostHigh);
}

/**
 * One child to drop, by far the most frequent rule: Dinkelbach's iteration (see {@link chooseLowest}) and then the
 * proof that nobody else lies as low, by more than doubles can be off, or by an exact comparison.
 */
function lowestOne(flat: FlatTree, g: number, s: DropScratch, bound: number): boolean {
  const { worth, share, droppable, count } = s;
  // Where all shares are the same the ratio plays no part.
  let r = s.isEven ? 0 : s.ratio;
  let last = -1;
  for (let turn = 0; turn < 40; turn++) {
    let best = -1;
    let least = Infinity;
    // The least that those beside the best may be in truth.
    let bottom = Infinity;
    let ofBest = Infinity;
    for (let j = 0; j < count; j++) {
      if (droppable[j] === 0) continue;
      const w = worth[j]!;
      const rs = r * share[j]!;
      const v = w - rs;
      const atLeast = v - bound * (w + rs);
      if (v < least) {
        if (ofBest < bottom) bottom = ofBest;
        least = v;
        ofBest = atLeast;
        best = j;
      } else if (atLeast < bottom) bottom = atLeast;
    }
    if (s.isEven || best === last) {
      s.out[best] = 1;
      const top = least + bound * (worth[best]! + r * share[best]!);
      return top < bottom || isBelowAll(flat, g, s, best, { r, bound, top });
    }
    last = best;
    r = ratioWithout(worth, share, count, best);
  }
  return false;
}

/** Looks exactly at each that is too close to the one that is dropped. */
function isBelowAll(
  flat: FlatTree,
  g: number,
  s: DropScratch,
  best: number,
  { r, bound, top }: { r: number; bound: number; top: number },
): boolean {
  for (let j = 0; j < s.count; j++) {
    const w = s.worth[j]!;
    const rs = r * s.share[j]!;
    if (w - rs - bound * (w + rs) <= top && j !== best && s.droppable[j] === 1 && !isBelow(flat, g, s, best, j))
      return false;
  }
  return true;
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
function lowest(flat: FlatTree, g: number, s: DropScratch, n: number, bound: number): boolean {
  let r = ratioLeft(s);
  for (let turn = 0; turn < 40; turn++) {
    for (let j = 0; j < s.count; j++) s.value[j] = s.worth[j]! - r * s.share[j]!;
    if (!pick(s, n))
      return separate(
        s,
        s.droppable,
        (j) => bound * (s.worth[j]! + r * s.share[j]!),
        (a, b) => isBelow(flat, g, s, a, b),
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
function separate(
  s: DropScratch,
  droppable: Uint8Array,
  off: (j: number) => number,
  below: (a: number, b: number) => boolean,
): boolean {
  const { value, out } = s;
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
function isBelow(flat: FlatTree, g: number, s: DropScratch, a: number, b: number): boolean {
  if (s.certain[a] === 0 || s.certain[b] === 0) return false;
  if (s.share[a] === s.share[b]) {
    // r plays no part: the worths decide, which with equal shares are as the ratios are.
    const sign = compareRatios(s, a, b);
    return sign < 0 || (sign === 0 && a < b);
  }
  return flat.combine[g] === COMBINE.points && isBelowInPoints(s, a, b);
}

const tenThousandths = (x: number): number => Math.round(x * 10_000);

/** Sign of earned / points of item a less that of item b, exact; NaN where it does not fit into whole doubles. */
function compareRatios(s: DropScratch, a: number, b: number): number {
  const left = tenThousandths(s.earned[a]!) * tenThousandths(s.outOf[b]!);
  const right = tenThousandths(s.earned[b]!) * tenThousandths(s.outOf[a]!);
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
function highest(flat: FlatTree, g: number, s: DropScratch, n: number, bound: number): boolean {
  const { out, value } = s;
  const droppable = s.droppableHigh;
  // Turned over, the highest are the lowest. Those that are out already stand aside (2).
  const mode = flat.combine[g];
  for (let j = 0; j < s.count; j++) {
    value[j] = mode !== COMBINE.points && mode !== COMBINE.weights ? -s.worth[j]! : -s.worth[j]! / s.share[j]!;
    if (out[j] === 1) out[j] = 2;
  }
  let left = 0;
  for (let j = 0; j < s.count; j++) if (droppable[j] === 1 && out[j] === 0) left++;
  for (let k = 0; k < Math.min(n, left); k++) {
    let best = -1;
    for (let j = 0; j < s.count; j++)
      if (droppable[j] === 1 && out[j] === 0 && (best < 0 || value[j]! < value[best]!)) best = j;
    out[best] = 1;
  }
  const certain = separate(
    s,
    droppable,
    (j) => -bound * value[j]!,
    (a, b) => {
      if (s.certain[a] === 0 || s.certain[b] === 0) return false;
      const sign = compareRatios(s, b, a);
      return sign < 0 || (sign === 0 && a < b);
    },
  );
  for (let j = 0; j < s.count; j++) if (out[j] === 2) out[j] = 1;
  return certain;
}

/** The same choice in fractions, where every child is a decimal of points. */
function exactly(s: DropScratch, low: number, high: number): boolean {
  const children: (Choice & { at: number })[] = [];
  for (let j = 0; j < s.count; j++) {
    if (s.certain[j] === 0) return false;
    const ratio = divide(fromNumber(s.earned[j]!), fromNumber(s.outOf[j]!));
    const share = fromNumber(s.share[j]!);
    const [mayLeaveLowest, mayLeaveHighest] = [s.droppable[j] === 1, s.droppableHigh[j] === 1];
    children.push({ at: j, ratio, share, earned: multiply(ratio, share), mayLeaveLowest, mayLeaveHighest });
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
