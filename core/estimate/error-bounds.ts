import { CHILD, COMBINE } from './codes';
import type { FlatTree } from './flat-tree';
import type { FlatLine } from './flat-then';

/** An item's earned points: the nearest double of a decimal, or of a fraction of big integers. */
export const ERROR_EARNED = 3;
const ERROR_POINTS = 1;
/** An item's earned points over its points. */
export const ERROR_ITEM = ERROR_EARNED + ERROR_POINTS + 1;

/** How far ratios and possibles may be off, of every group and also: from what is below, operation by operation. */
export function boundErrors(flat: FlatTree): void {
  for (let g = 0; g < flat.errorRatio.length; g++) boundGroup(flat, g);
  for (let a = 0; a < flat.alsoOf.length; a++) boundAlso(flat, a);
}

function boundGroup(flat: FlatTree, g: number): void {
  if (!Number.isNaN(flat.errorRatio[g]!)) return;
  const from = flat.childFrom[g]!;
  const to = flat.childFrom[g + 1]!;
  let ratio = 0;
  let possible = 0;
  let worst = 0;
  for (let c = from; c < to; c++) {
    const [childRatio, childPossible] = boundChild(flat, flat.child[c]!, flat.childFlags[c]!);
    // What the child brings to the sum above the line, and its share below it.
    flat.childError[c] = childRatio + childPossible + 1;
    worst = Math.max(worst, flat.childError[c]!);
    ratio = Math.max(ratio, childRatio);
    possible = Math.max(possible, childPossible);
  }
  flat.worstChildError[g] = worst;
  const sum = to - from;
  const above = ratio + possible + 2 + sum;
  const below = possible + 1 + sum;
  // In a decaying group each step multiplies twice, by shares that are off themselves, and adds.
  const together = flat.combine[g] === COMBINE.decaying ? ratio + 4 * sum : above + below + 1;
  // For extra credit its own quotient by W (itself off by at most 3), the limit of it and the sum with it.
  flat.errorBefore[g] = together + 6 + 2;
  flat.errorRatio[g] = afterThen(flat, g, flat.errorBefore[g]!);
  flat.errorPossible[g] = possible + sum;
}

/** Ratio and possible of a child. */
function boundChild(flat: FlatTree, ref: number, flags: number): [number, number] {
  if (flags & CHILD.also) {
    const a = ref - flat.items;
    boundAlso(flat, a);
    return [flat.alsoError[a]!, flat.alsoErrorPossible[a]!];
  }
  if (ref >= 0) return [ERROR_ITEM, ERROR_POINTS];
  boundGroup(flat, ~ref);
  return [flat.errorRatio[~ref]!, flat.errorPossible[~ref]!];
}

function boundAlso(flat: FlatTree, a: number): void {
  const [ratio, possible] = boundChild(flat, flat.alsoOf[a]!, 0);
  flat.alsoErrorPossible[a] = Math.max(possible, ERROR_POINTS);
  const line = flat.alsoLine[a]!;
  if (line) flat.alsoError[a] = alongLine(flat, line, ratio);
  // Nothing, all of it, or so many of so many: a quotient of whole numbers.
  else if (!Number.isNaN(flat.alsoFrom[a]!) || !Number.isNaN(flat.alsoReaching[a]!)) flat.alsoError[a] = 1;
  else flat.alsoError[a] = ratio;
}

function afterThen(flat: FlatTree, g: number, error: number): number {
  const then = flat.then[g]!;
  if (then === null) return error;
  // A multiple of the step, or what stands beside one, of a hundred.
  return then.kind === 'through' ? alongLine(flat, then.line, error) : 4;
}

/** Times a hundred, along the line (its points and the two differences are off themselves), and by a hundred. */
function alongLine(flat: FlatTree, line: FlatLine, error: number): number {
  if (!Number.isFinite(line.amplifies)) flat.exactOnly = true;
  return Number.isFinite(line.amplifies) ? line.amplifies * (error + 10) + 8 : error;
}
