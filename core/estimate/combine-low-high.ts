import { KIND } from '../calculation/cells/cells';
import type { CompiledBook } from '../calculation/compiled/compiled';
import { CHILD, COMBINE, PASS } from './codes';
import { leaveOut, ratioOfSums } from './combine';
import type { Estimate } from './state';

/**
 * Low and high of a group of items alone (`flat.bare`), from one look at them: what is open is worth nothing in one and
 * everything in the other, all else is the same. What `combine` gives in two passes, with no more roundings.
 */
export function combineLowHigh(compiled: CompiledBook, e: Estimate, g: number): void {
  const { flat } = e.variant;
  const { kind, earned: earnedOf, width } = compiled.cells;
  const { child, childFlags, childShare, points } = flat;
  const mode = flat.combine[g]!;
  const drops = flat.drops[g] === 1;
  const s = e.scratch;
  const { worth, share: shares, droppable, droppableHigh, certain, place, earned: earnings, outOf, out, open } = s;
  const base = e.student * width;
  let m = 0;
  let opens = 0;
  let free = 0;
  let mayDrop = 0;
  let isEven = true;
  let sumWorth = 0;
  let sumShare = 0;
  let sumPossible = 0;
  let sumOpen = 0;
  let extra = 0;
  let extraOpen = 0;
  for (let c = flat.childFrom[g]!; c < flat.childFrom[g + 1]!; c++) {
    const i = child[c]!;
    const flags = childFlags[c]!;
    if (flags & CHILD.idle) continue;
    const k = kind[base + i]!;
    const possible = points[i]!;
    let earned = earnedOf[base + i]!;
    let held = 0;
    let sure = 1;
    let isOpen = false;
    if ((k & ~KIND.state) !== 0) {
      held = k & KIND.protected;
      if (k & KIND.open) {
        isOpen = true;
        earned = 0;
      } else if (k & KIND.skipped) continue;
      else if (k & KIND.isExact) sure = 0;
    }
    let share = possible;
    let w = earned;
    let most = possible;
    if (mode !== COMBINE.points) {
      share = childShare[c]!;
      w = earned / possible;
      most = 1;
      if (mode === COMBINE.weights) {
        w *= share;
        most = share;
      }
    }
    if (flags & CHILD.extra) {
      extra += w;
      if (isOpen) extraOpen += most;
      continue;
    }
    if (share === 0) continue;
    sumWorth += w;
    sumShare += share;
    sumPossible += possible;
    if (isOpen) sumOpen += most;
    if (drops) {
      worth[m] = w;
      shares[m] = share;
      earnings[m] = earned;
      outOf[m] = possible;
      certain[m] = sure;
      out[m] = 0;
      place[m] = c;
      if (share !== shares[0]) isEven = false;
      const kept = flags & CHILD.kept;
      const isDroppable = held === 0 && !kept;
      droppable[m] = droppableHigh[m] = isDroppable ? 1 : 0;
      if (isDroppable) mayDrop++;
      if (!kept) free++;
      if (isOpen) open[opens++] = m;
    }
    m++;
  }
  const low = PASS.low * compiled.groups.length + g;
  const high = PASS.high * compiled.groups.length + g;
  if (m === 0) {
    e.ratio[low] = e.ratio[high] = NaN;
    e.possible[low] = e.possible[high] = 0;
    return;
  }
  s.count = m;
  s.opens = opens;
  s.sumWorth = sumWorth;
  s.sumShare = sumShare;
  s.extra = extra;
  const dropsSome = drops && m > 1;
  if (dropsSome) {
    s.free = free;
    s.mayDrop = mayDrop;
    s.isEven = isEven;
    s.standing = 0;
    leaveOut(e, g, PASS.low);
  }
  e.ratio[low] = ratioOfSums(e, g);
  e.possible[low] = mode === COMBINE.points ? s.sumShare : sumPossible;
  s.sumWorth = sumWorth + sumOpen;
  s.sumShare = sumShare;
  s.extra = extra + extraOpen;
  if (dropsSome) {
    fillOpen(e, mode);
    leaveOut(e, g, PASS.high);
  }
  e.ratio[high] = ratioOfSums(e, g);
  e.possible[high] = mode === COMBINE.points ? s.sumShare : sumPossible;
}

/** What is open is worth all that it can be; nobody is out any more. */
function fillOpen(e: Estimate, mode: number): void {
  const { worth, share, earned, outOf, out, open, opens, count } = e.scratch;
  for (let n = 0; n < opens; n++) {
    const j = open[n]!;
    worth[j] = mode === COMBINE.equal ? 1 : share[j]!;
    earned[j] = outOf[j]!;
  }
  for (let j = 0; j < count; j++) out[j] = 0;
}
