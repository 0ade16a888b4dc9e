import { add, divide, greatest, least, multiply, ZERO, ONE, type Fraction } from '../exact/fraction';
import { chooseHighest, chooseLowest, sumShares, type Choice } from './drops';
import type { CompiledGroup, CompiledNode } from './compile';
import type { CellValue } from './value';

/** A child as its group sees it (contract, section 5). `ratio` is of one, `earned` is ratio × share. */
export interface ChildShare extends Choice {
  node: CompiledNode;
  /** Taken as nothing by `whenEmpty: "zero"`. */
  filled: boolean;
}

/** How a group came about, step by step. `ratio` null: the group is skipped. */
export interface GroupOutcome {
  group: CompiledGroup;
  counting: ChildShare[];
  staying: ChildShare[];
  droppedLowest: ChildShare[];
  droppedHighest: ChildShare[];
  plain: Fraction | null;
  /** Each extra-credit child with what it adds to the ratio. */
  extras: { node: CompiledNode; ratio: Fraction | null; share: Fraction; earned: Fraction; adds: Fraction }[];
  beforeLimits: Fraction | null;
  ratio: Fraction | null;
  possible: Fraction;
  filled: boolean;
}

/** One pass over the tree for one student. `outcomes` is by group number, `dropped` by item number. */
export interface TreeOutcome {
  root: GroupOutcome;
  outcomes: GroupOutcome[];
  dropped: boolean[];
}

/** `values` by item number. `out`: an item that its group drops besides what its rule drops, for supposing so. */
export function evaluateTree(root: CompiledGroup, values: readonly CellValue[], out?: CompiledNode): TreeOutcome {
  const outcomes: GroupOutcome[] = [];
  const dropped: boolean[] = [];
  const result = evaluateGroup(root, values, false, outcomes, dropped, out);
  return { root: result, outcomes, dropped };
}

function evaluateGroup(
  group: CompiledGroup,
  values: readonly CellValue[],
  fill: boolean,
  outcomes: GroupOutcome[],
  dropped: boolean[],
  out: CompiledNode | undefined,
): GroupOutcome {
  let outcome = workOut(group, values, fill, outcomes, dropped, out);
  // Step 6: an empty category that its rule takes as nothing, unless it is (under) extra credit.
  if (outcome.ratio === null && !fill && group.source.whenEmpty === 'zero' && !group.optional) {
    outcome = workOut(group, values, true, outcomes, dropped, out);
    outcome.filled = outcome.ratio !== null;
  }
  outcomes[group.index] = outcome;
  return outcome;
}

function workOut(
  group: CompiledGroup,
  values: readonly CellValue[],
  fill: boolean,
  outcomes: GroupOutcome[],
  dropped: boolean[],
  out: CompiledNode | undefined,
): GroupOutcome {
  const combine = group.source.combine;
  const counting: ChildShare[] = [];
  const extra: { node: CompiledNode; ratio: Fraction | null; earned: Fraction; share: Fraction }[] = [];
  for (const node of group.children) {
    let earned: Fraction | null;
    let possible: Fraction;
    let droppable = !node.alwaysKept;
    let filled = false;
    let ratio: Fraction | null;
    if (node.type === 'item') {
      dropped[node.index] = false;
      const value = values[node.index]!;
      earned = value.earned;
      if (earned === null && fill && !node.optional && (value.state === 'blank' || value.state === 'missing')) {
        earned = ZERO;
        filled = true;
      }
      if (!node.counts || earned === null) continue;
      possible = node.points;
      ratio = possible.n === 0 ? null : divide(earned, possible);
      droppable &&= !value.protected;
    } else {
      const inner = evaluateGroup(node, values, fill, outcomes, dropped, out);
      if (inner.ratio === null) continue;
      ratio = inner.ratio;
      possible = inner.possible;
      earned = multiply(ratio, possible);
    }
    const share = combine === 'points' ? possible : combine === 'equal' ? ONE : node.weight;
    if (node.extraCredit) {
      extra.push({ node, ratio, earned, share });
      continue;
    }
    if (share.n === 0 || ratio === null) continue;
    const worth = combine === 'points' ? earned : combine === 'equal' ? ratio : multiply(ratio, share);
    counting.push({ node, ratio, share, earned: worth, droppable, filled });
  }
  if (counting.length === 0) return skipped(group);

  const besides = counting.length > 1 ? counting.filter((c) => c.node === out) : [];
  const choosable = without(counting, besides);
  const lowest = [...besides, ...chooseLowest(choosable, wantedLowest(group, choosable))];
  const afterLowest = without(counting, lowest);
  const highest = chooseHighest(afterLowest, group.source.drop?.highest ?? 0);
  const staying = without(afterLowest, highest);
  for (const c of [...lowest, ...highest]) if (c.node.type === 'item') dropped[c.node.index] = true;

  const sum = sumShares(staying);
  const plain = divide(sum.earned, sum.share);
  const extras = extra.map((e) => ({
    ...e,
    adds:
      combine === 'points'
        ? divide(e.earned, sum.share)
        : e.ratio === null || group.bonusBase === null
          ? ZERO
          : divide(multiply(e.ratio, e.share), group.bonusBase),
  }));
  const beforeLimits = extras.reduce((total, e) => add(total, e.adds), plain);
  let ratio = beforeLimits;
  if (group.cap !== null) ratio = least(ratio, group.cap);
  if (group.floor !== null) ratio = greatest(ratio, group.floor);
  const possible = (combine === 'points' ? staying : counting).reduce(
    (total, c) => add(total, possibleOf(c, outcomes)),
    ZERO,
  );
  return {
    group,
    counting,
    staying,
    droppedLowest: lowest,
    droppedHighest: highest,
    plain,
    extras,
    beforeLimits,
    ratio,
    possible,
    filled: false,
  };
}

function skipped(group: CompiledGroup): GroupOutcome {
  return {
    group,
    counting: [],
    staying: [],
    droppedLowest: [],
    droppedHighest: [],
    plain: null,
    extras: [],
    beforeLimits: null,
    ratio: null,
    possible: ZERO,
    filled: false,
  };
}

const possibleOf = (c: ChildShare, outcomes: GroupOutcome[]): Fraction =>
  c.node.type === 'item' ? c.node.points : outcomes[c.node.index]!.possible;

/** How many of the lowest the rule wants to drop, before what can be dropped limits it. */
function wantedLowest(group: CompiledGroup, counting: readonly ChildShare[]): number {
  const { drop, keepBest } = group.source;
  if (keepBest === undefined) return drop?.lowest ?? 0;
  return Math.max(0, counting.filter((c) => c.droppable).length - keepBest);
}

function without<C>(all: C[], gone: readonly C[]): C[] {
  if (gone.length === 0) return all;
  const out = new Set(gone);
  return all.filter((c) => !out.has(c));
}
