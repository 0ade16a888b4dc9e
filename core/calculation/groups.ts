import {
  add,
  compare,
  divide,
  fraction,
  greatest,
  HUNDRED,
  least,
  multiply,
  ONE,
  subtract,
  ZERO,
  type Fraction,
} from '../exact/fraction';
import { onLine } from '../exact/line';
import type { CompiledAlso, CompiledGroup, CompiledNode } from './compiled/compiled';
import { chooseHighest, chooseLowest, sumShares, type Choice } from './drops';
import type { AlsoOutcome, ChildShare, ExtraShare, Fill, GroupOutcome, TreeOutcome } from './outcomes';
import { applyThen } from './then';
import type { CellValue } from './cells/value';
import { weightOf, type CompiledVariant } from './compiled/variants';

export type * from './outcomes';

const FILLS = { none: 0, blanks: 1, pieces: 2 };

/** One pass with what is known so far: a node may be asked for from several places. */
interface Pass {
  variant: CompiledVariant;
  values: readonly CellValue[];
  out: CompiledNode | undefined;
  /** By group number and fill. */
  groups: (GroupOutcome | undefined)[];
  alsos: (AlsoOutcome | undefined)[];
}

/** `values` by item number. `out`: an item that its group drops besides what its rule drops, for supposing so. */
export function evaluateTree(variant: CompiledVariant, values: readonly CellValue[], out?: CompiledNode): TreeOutcome {
  const pass: Pass = { variant, values, out, groups: [], alsos: [] };
  const tree: TreeOutcome = { root: evaluateGroup(pass, variant.root, 'none'), outcomes: [], alsos: [], dropped: [] };
  gather(pass, tree, tree.root);
  return tree;
}

/** The outcomes that the tree was made of, each as its place asked for it. */
function gather(pass: Pass, tree: TreeOutcome, outcome: GroupOutcome): void {
  tree.outcomes[outcome.group.index] = outcome;
  for (const node of outcome.group.children) {
    if (node.type === 'item') tree.dropped[node.index] = false;
    else if (node.type === 'also') tree.alsos[node.index] = evaluateAlso(pass, node);
    else gather(pass, tree, isOut(pass, node) ? skipped(node) : evaluateGroup(pass, node, outcome.fill));
  }
  for (const { node } of [...outcome.droppedLowest, ...outcome.droppedHighest]) {
    if (node.type === 'item') tree.dropped[node.index] = true;
    else if (node.type === 'also') tree.alsos[node.index]!.dropped = true;
  }
}

const isOut = (pass: Pass, node: CompiledNode): boolean =>
  pass.variant.leftOut.size > 0 && pass.variant.leftOut.has(node);

function evaluateGroup(pass: Pass, group: CompiledGroup, fill: Fill): GroupOutcome {
  // Extra credit takes its own pieces as nothing, whatever is done above it.
  const takesPieces = group.extraCredit && !pass.variant.isBeforeRepairs && isBegun(pass, group);
  const own = group.extraCredit ? (takesPieces ? 'pieces' : 'none') : fill;
  const key = group.index * 3 + FILLS[own];
  const known = pass.groups[key];
  if (known) return known;
  let outcome = workOut(pass, group, own);
  // Step 6: an empty category that its rule takes as nothing, unless it is (under) extra credit.
  const isEmpty = outcome.counting.every((c) => c.node.type === 'also');
  if (isEmpty && own === 'none' && group.source.whenEmpty === 'zero' && !group.optional) {
    outcome = workOut(pass, group, 'blanks');
    outcome.filled = outcome.counting.some((c) => c.node.type !== 'also');
  }
  pass.groups[key] = outcome;
  return outcome;
}

/** One of the pieces of an extra-credit group is done. */
const isBegun = (pass: Pass, group: CompiledGroup): boolean =>
  group.pieces.some(({ index }) => {
    const { state } = pass.values[index]!;
    return state === 'scored' || state === 'set';
  });

function isFilled(fill: Fill, node: CompiledNode, { state }: CellValue): boolean {
  if (fill === 'blanks') return !node.optional && (state === 'blank' || state === 'missing');
  return fill === 'pieces' && !node.extraCredit && state !== 'excused';
}

/** What a node is worth where it stands; null: it is skipped, or counts nowhere. `ratio` null: it has no points. */
function worthOf(
  pass: Pass,
  node: CompiledNode,
  fill: Fill,
): { ratio: Fraction | null; possible: Fraction; earned: Fraction; filled: boolean } | null {
  if (isOut(pass, node)) return null;
  if (node.type !== 'item') {
    const { ratio, possible } = node.type === 'also' ? evaluateAlso(pass, node) : evaluateGroup(pass, node, fill);
    return ratio === null ? null : { ratio, possible, earned: multiply(ratio, possible), filled: false };
  }
  if (!node.counts) return null;
  const value = pass.values[node.index]!;
  const filled = value.earned === null && isFilled(fill, node, value);
  const earned = filled ? ZERO : value.earned;
  if (earned === null) return null;
  const possible = node.points;
  return { ratio: possible.n === 0 ? null : divide(earned, possible), possible, earned, filled };
}

/** Whether a child can be dropped as one of the lowest, and as one of the highest. */
function dropsOf(pass: Pass, node: CompiledNode): Pick<Choice, 'mayLeaveLowest' | 'mayLeaveHighest'> {
  const free = !node.alwaysKept;
  const isProtected = (n: CompiledNode): boolean => n.type === 'item' && pass.values[n.index]!.protected;
  if (node.type === 'also')
    return { mayLeaveLowest: free && (node.standsIn || !isProtected(node.of)), mayLeaveHighest: free };
  const may = free && !isProtected(node);
  return { mayLeaveLowest: may, mayLeaveHighest: may };
}

function workOut(pass: Pass, group: CompiledGroup, fill: Fill): GroupOutcome {
  const { combine } = group.source;
  const counting: ChildShare[] = [];
  const extra: Omit<ExtraShare, 'adds'>[] = [];
  for (const node of group.children) {
    const worth = worthOf(pass, node, fill);
    if (worth === null) continue;
    const { ratio, possible, earned, filled } = worth;
    const share = combine === 'points' ? possible : combine === 'weights' ? weightOf(pass.variant, node) : ONE;
    if (node.extraCredit) extra.push({ node, ratio, earned, share, filled });
    else if (share.n !== 0 && ratio !== null) {
      const brings = combine === 'points' ? earned : combine === 'weights' ? multiply(ratio, share) : ratio;
      counting.push({ node, ratio, share, possible, earned: brings, filled, ...dropsOf(pass, node) });
    }
  }
  if (counting.length === 0) return { ...skipped(group), fill };

  const besides = counting.length > 1 ? counting.filter((c) => c.node === pass.out) : [];
  const choosable = without(counting, besides);
  const droppedLowest = [...besides, ...chooseLowest(choosable, wantedLowest(pass, group, choosable))];
  const afterLowest = without(counting, droppedLowest);
  const droppedHighest = chooseHighest(afterLowest, group.source.drop?.highest ?? 0);
  const staying = without(afterLowest, droppedHighest);

  const sum = sumShares(staying);
  const plain = plainRatio(group, staying, sum);
  const bonusBase = pass.variant.bonusBase[group.index] ?? null;
  const extras = extra.map((e) => ({ ...e, adds: addedBy(e, combine === 'points' ? sum.share : null, bonusBase) }));
  const together = extras.reduce((total, e) => add(total, e.adds), ZERO);
  const limited = group.extraAtMost === null ? together : least(together, group.extraAtMost);
  const beforeLimits = add(plain, limited);
  const afterThen = group.then === null ? beforeLimits : applyThen(group.then, beforeLimits);
  let ratio = afterThen;
  if (group.cap !== null) ratio = least(ratio, group.cap);
  if (group.floor !== null) ratio = greatest(ratio, group.floor);
  const filled = false;
  const possible = possibleOf(combine === 'points', staying, counting);
  return { group, counting, staying, droppedLowest, droppedHighest, plain, extras, extra: limited, beforeLimits, afterThen, ratio, possible, fill, filled }; // prettier-ignore
}

/** Step 3, before extra credit. */
function plainRatio(
  { source: { combine }, newest }: CompiledGroup,
  staying: readonly ChildShare[],
  sum: { earned: Fraction; share: Fraction },
): Fraction {
  if (combine === 'median') {
    const ratios = staying.map((c) => c.ratio).sort(compare);
    const half = ratios.length >> 1;
    return ratios.length % 2 === 1 ? ratios[half]! : divide(add(ratios[half - 1]!, ratios[half]!), fraction(2));
  }
  if (combine !== 'decaying') return divide(sum.earned, sum.share);
  const before = subtract(ONE, newest!);
  const [first, ...later] = staying.map((c) => c.ratio) as [Fraction, ...Fraction[]];
  return later.reduce((was, ratio) => add(multiply(newest!, ratio), multiply(before, was)), first);
}

/** `below`: in a `points` group the sum below the line. */
function addedBy(e: Omit<ExtraShare, 'adds'>, below: Fraction | null, bonusBase: Fraction | null): Fraction {
  if (below !== null) return divide(e.earned, below);
  return e.ratio === null || bonusBase === null ? ZERO : divide(multiply(e.ratio, e.share), bonusBase);
}

/** Step 5. */
function possibleOf(inPoints: boolean, staying: readonly ChildShare[], counting: readonly ChildShare[]): Fraction {
  const own = counting.filter((c) => c.node.type !== 'also');
  const of = inPoints ? staying : own.length > 0 ? own : counting;
  return of.reduce((total, c) => add(total, c.possible), ZERO);
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
    extra: ZERO,
    beforeLimits: null,
    afterThen: null,
    ratio: null,
    possible: ZERO,
    fill: 'none',
    filled: false,
  };
}

/** How many of the lowest are to go, before what can be dropped limits it. */
function wantedLowest(
  { variant }: Pass,
  { source: { drop, keepBest } }: CompiledGroup,
  counting: readonly ChildShare[],
): number {
  const standing = counting.filter((c) => c.node.type === 'also' && c.node.standsIn).length;
  if (keepBest === undefined) return (drop?.lowest ?? 0) + standing;
  const isFree = (c: ChildShare): boolean => (variant.isBeforeRepairs ? c.mayLeaveLowest : !c.node.alwaysKept);
  const free = counting.filter(isFree).length - standing;
  return Math.max(0, free - keepBest) + standing;
}

function without<C>(all: C[], gone: readonly C[]): C[] {
  if (gone.length === 0) return all;
  const out = new Set(gone);
  return all.filter((c) => !out.has(c));
}

function evaluateAlso(pass: Pass, also: CompiledAlso): AlsoOutcome {
  return (pass.alsos[also.index] ??= workOutAlso(pass, also));
}

function workOutAlso(pass: Pass, also: CompiledAlso): AlsoOutcome {
  const none = { also, own: null, reached: null, ratio: null, possible: ZERO, dropped: false };
  const { of } = also;
  if (isOut(pass, also)) return none;
  if (of.type === 'item') {
    const { earned } = pass.values[of.index]!;
    if (earned === null) return none;
    const own = divide(earned, of.points);
    return { ...none, own, ratio: ratioOf(also, own), possible: also.points ?? of.points };
  }
  const group = evaluateGroup(pass, of, 'none');
  if (group.ratio === null) return none;
  const possible = also.points ?? group.possible;
  if (also.reaching === null) return { ...none, own: group.ratio, ratio: ratioOf(also, group.ratio), possible };
  const asked = group.staying.map((c) => c.node);
  const reach = group.staying.filter((c) => compare(c.ratio, also.reaching!) >= 0).map((c) => c.node);
  const ratio = fraction(reach.length, asked.length);
  return { ...none, own: group.ratio, reached: { reach, asked }, ratio, possible };
}

function ratioOf(also: CompiledAlso, own: Fraction): Fraction {
  if (also.through !== null) return divide(onLine(also.through, multiply(own, HUNDRED)), HUNDRED);
  if (also.from !== null) return compare(own, also.from) >= 0 ? ONE : ZERO;
  return own;
}
