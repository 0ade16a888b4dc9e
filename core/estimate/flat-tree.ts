import type { CompiledAlso, CompiledGroup, CompiledItem, CompiledNode } from '../calculation/compiled/compiled';
import type { CompiledVariant } from '../calculation/compiled/variants';
import { ONE, subtract, toNumber } from '../exact/fraction';
import { CHILD, COMBINE } from './codes';
import { boundErrors } from './error-bounds';
import { flatLine, flatThen, type FlatLine, type FlatThen } from './flat-then';

/**
 * The tree as flat arrays, for the estimate: groups by their number, the children of group g at childFrom[g] to
 * childFrom[g + 1] in book order. A child is an item's number, the complement (~) of a group's, or the number of items
 * plus an also's.
 *
 * `error…` bounds how far a double may be off, as a multiple of 2^-53 of the figure itself. All figures of the tree are
 * sums, products and quotients of numbers that are never negative, so relative errors add up and never blow up; the
 * bounds hang on the shape of the tree alone (docs/decisions/006).
 */
export interface FlatTree {
  childFrom: Int32Array;
  /** One past the last group below a group: what is below follows it without a gap. */
  end: Int32Array;
  child: Int32Array;
  childFlags: Uint8Array;
  /** Weight, 1 or points of an item by the group's combine; in a `points` group others bring their own possible. */
  childShare: Float64Array;
  childError: Float64Array;
  /** The most of those of a group's children. */
  worstChildError: Float64Array;
  combine: Uint8Array;
  /** Group has child groups, or alsos. */
  nested: Uint8Array;
  /** Group of items alone, whose low and high differ by what is open and nothing else. */
  bare: Uint8Array;
  lowest: Int32Array;
  highest: Int32Array;
  /** 0: no such rule. */
  keepBest: Int32Array;
  /** Some child of it is dropped by a rule. */
  drops: Uint8Array;
  then: (FlatThen | null)[];
  cap: Float64Array;
  floor: Float64Array;
  bonusBase: Float64Array;
  extraAtMost: Float64Array;
  /** Of a `decaying` group: the share of the newest, and of what went before. */
  newest: Float64Array;
  older: Float64Array;
  /** Of an extra-credit group: the items that are worth nothing once one of them is done. */
  pieces: (Int32Array | null)[];
  /** Takes blanks as nothing where it would be empty; and: some group above it does. */
  fills: Uint8Array;
  underFills: Uint8Array;
  /** The alsos that count how many children of the group reach a percentage. */
  reaching: (Int32Array | null)[];
  errorRatio: Float64Array;
  /** The same before `then`. */
  errorBefore: Float64Array;
  errorPossible: Float64Array;
  points: Float64Array;
  optional: Uint8Array;
  widest: number;
  items: number;
  /** By also: an item's number, or the complement of a group's. */
  alsoOf: Int32Array;
  /** Its own points; NaN: those of what it counts. */
  alsoPoints: Float64Array;
  alsoLine: (FlatLine | null)[];
  /** Percents; NaN: it has none. */
  alsoFrom: Float64Array;
  alsoReaching: Float64Array;
  alsoOptional: Uint8Array;
  alsoError: Float64Array;
  alsoErrorPossible: Float64Array;
  /** Doubles are of no use here: it is worked out in fractions alone. */
  exactOnly: boolean;
}

const fills = (g: CompiledGroup): boolean => g.source.whenEmpty === 'zero' && !g.optional;

function someAbove(g: CompiledGroup, is: (g: CompiledGroup) => boolean): boolean {
  for (let above = g.parent; above !== null; above = above.parent) if (is(above)) return true;
  return false;
}

const whole = (n: number | undefined): number => Math.min(n ?? 0, 2 ** 31 - 1);

type Tree = Pick<CompiledVariant, 'leftOut' | 'weights' | 'bonusBase'>;

export function flatten(
  items: readonly CompiledItem[],
  groups: readonly CompiledGroup[],
  alsos: readonly CompiledAlso[],
  tree: Tree,
): FlatTree {
  const children = groups.map((g) => (tree.leftOut.size === 0 ? g.children : g.children.filter((c) => !tree.leftOut.has(c)))); // prettier-ignore
  const G = groups.length;
  const total = children.reduce((n, c) => n + c.length, 0);
  const reaching = alsos.filter((a) => a.reaching !== null);
  const flat: FlatTree = {
    childFrom: new Int32Array(G + 1),
    end: new Int32Array(G),
    child: new Int32Array(total),
    childFlags: new Uint8Array(total),
    childShare: new Float64Array(total),
    childError: new Float64Array(total),
    worstChildError: new Float64Array(G),
    combine: Uint8Array.from(groups, (g) => COMBINE[g.source.combine]),
    nested: Uint8Array.from(children, (list) => (list.some((c) => c.type !== 'item') ? 1 : 0)),
    lowest: Int32Array.from(groups, (g) => whole(g.source.drop?.lowest)),
    highest: Int32Array.from(groups, (g) => whole(g.source.drop?.highest)),
    keepBest: Int32Array.from(groups, (g) => whole(g.source.keepBest)),
    bare: new Uint8Array(G),
    drops: new Uint8Array(G),
    then: groups.map((g) => flatThen(g.source.then)),
    cap: Float64Array.from(groups, (g) => (g.cap === null ? Infinity : toNumber(g.cap))),
    floor: Float64Array.from(groups, (g) => (g.floor === null ? 0 : toNumber(g.floor))),
    bonusBase: Float64Array.from(tree.bonusBase, (base) => (base === null ? NaN : toNumber(base))),
    extraAtMost: Float64Array.from(groups, (g) => (g.extraAtMost === null ? Infinity : toNumber(g.extraAtMost))),
    newest: Float64Array.from(groups, (g) => (g.newest === null ? NaN : toNumber(g.newest))),
    older: Float64Array.from(groups, (g) => (g.newest === null ? NaN : toNumber(subtract(ONE, g.newest)))),
    pieces: groups.map((g) => (g.extraCredit ? Int32Array.from(g.pieces, (i) => i.index) : null)),
    fills: Uint8Array.from(groups, (g) => (fills(g) ? 1 : 0)),
    underFills: Uint8Array.from(groups, (g) => (someAbove(g, fills) ? 1 : 0)),
    reaching: groups.map((g) => {
      const of = reaching.filter((a) => a.of === g && !tree.leftOut.has(a)).map((a) => a.index);
      return of.length === 0 ? null : Int32Array.from(of);
    }),
    errorRatio: new Float64Array(G).fill(NaN),
    errorBefore: new Float64Array(G),
    errorPossible: new Float64Array(G),
    points: Float64Array.from(items, (i) => i.source.points),
    optional: Uint8Array.from(items, (i) => (i.optional ? 1 : 0)),
    widest: children.reduce((n, list) => Math.max(n, list.length), 0),
    items: items.length,
    alsoOf: Int32Array.from(alsos, ({ of }) => (of.type === 'item' ? of.index : ~of.index)),
    alsoPoints: Float64Array.from(alsos, (a) => a.source.points ?? NaN),
    alsoLine: alsos.map((a) => flatLine(a.source.through)),
    alsoFrom: Float64Array.from(alsos, (a) => a.source.from ?? NaN),
    alsoReaching: Float64Array.from(alsos, (a) => a.source.reaching ?? NaN),
    alsoOptional: Uint8Array.from(alsos, (a) => (a.optional ? 1 : 0)),
    alsoError: new Float64Array(alsos.length),
    alsoErrorPossible: new Float64Array(alsos.length),
    // What is counted by itself within extra credit, where pieces count as nothing, is two figures of one group.
    exactOnly: alsos.some(({ of }) => of.type === 'group' && someAbove(of, (g) => g.extraCredit)),
  };
  let at = 0;
  groups.forEach((g, i) => {
    flat.childFrom[i] = at;
    for (const c of children[i]!) {
      flat.child[at] = c.type === 'item' ? c.index : c.type === 'group' ? ~c.index : items.length + c.index;
      flat.childFlags[at] = flagsOf(c);
      flat.childShare[at] = shareOf(g, c, tree);
      at++;
    }
    flat.childFrom[i + 1] = at;
    const rules = flat.lowest[i]! + flat.highest[i]! + flat.keepBest[i]!;
    flat.drops[i] = rules > 0 || children[i]!.some((c) => c.type === 'also' && c.standsIn) ? 1 : 0;
    const isPlain = flat.combine[i]! < COMBINE.median && flat.reaching[i] === null && flat.fills[i] === 0;
    flat.bare[i] = flat.nested[i] === 0 && isPlain ? 1 : 0;
  });
  // A group comes before its children, so from the last to the first every child is known.
  for (let i = G - 1; i >= 0; i--) {
    flat.end[i] = i + 1;
    for (const c of groups[i]!.children)
      if (c.type === 'group') flat.end[i] = Math.max(flat.end[i]!, flat.end[c.index]!);
  }
  boundErrors(flat);
  return flat;
}

const flagsOf = (c: CompiledNode): number =>
  (c.extraCredit ? CHILD.extra : 0) |
  (c.alwaysKept ? CHILD.kept : 0) |
  (c.type === 'item' && !c.counts ? CHILD.idle : 0) |
  (c.type === 'also' ? CHILD.also | (c.standsIn ? CHILD.stands : 0) : 0);

function shareOf({ source: { combine } }: CompiledGroup, c: CompiledNode, { weights }: Tree): number {
  if (combine === 'weights') return toNumber(weights.get(c) ?? c.weight);
  if (combine !== 'points') return 1;
  return c.type === 'item' ? c.source.points : NaN;
}
