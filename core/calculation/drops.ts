import { add, compare, divide, multiply, subtract, ZERO, type Fraction } from '../exact/fraction';

/** A child of a group as the choice of what to drop sees it. `earned` is ratio × share. */
export interface Choice {
  ratio: Fraction;
  share: Fraction;
  earned: Fraction;
  /** It can be dropped as one of the lowest; as one of the highest. */
  mayLeaveLowest: boolean;
  mayLeaveHighest: boolean;
}

export function sumShares(children: readonly Choice[]): { earned: Fraction; share: Fraction } {
  let earned = ZERO;
  let share = ZERO;
  for (const c of children) {
    earned = add(earned, c.earned);
    share = add(share, c.share);
  }
  return { earned, share };
}

/**
 * The n children whose leaving makes the plain ratio highest. The best ratio r is found by Dinkelbach's iteration
 * (W. Dinkelbach, On nonlinear fractional programming, 1967): with r given, the best n to leave out are those with the
 * smallest earned − r × share; the ratio of what stays is the next r; it rises until it stands still.
 */
export function chooseLowest<C extends Choice>(counting: readonly C[], wanted: number): C[] {
  const droppable = counting.filter((c) => c.mayLeaveLowest);
  const n = Math.min(wanted, droppable.length, counting.length - 1);
  if (n <= 0) return [];
  const all = sumShares(counting);
  let r = divide(all.earned, all.share);
  for (;;) {
    const worth = droppable.map((c, at) => ({ c, at, v: subtract(c.earned, multiply(r, c.share)) }));
    worth.sort((a, b) => compare(a.v, b.v) || a.at - b.at);
    const out = worth.slice(0, n).map((w) => w.c);
    const gone = sumShares(out);
    const next = divide(subtract(all.earned, gone.earned), subtract(all.share, gone.share));
    // The first r is that of no set of n, so it may lie above every one of them: only a repeat is the end.
    if (compare(next, r) === 0) return out;
    r = next;
  }
}

/** The n highest by ratio of those that stay, the earlier first; at least one child stays. */
export function chooseHighest<C extends Choice>(staying: readonly C[], wanted: number): C[] {
  const droppable = staying.filter((c) => c.mayLeaveHighest);
  const n = Math.min(wanted, droppable.length, staying.length - 1);
  if (n <= 0) return [];
  return droppable
    .map((c, at) => ({ c, at }))
    .sort((a, b) => compare(b.c.ratio, a.c.ratio) || a.at - b.at)
    .slice(0, n)
    .map((w) => w.c);
}
