import type { Hurdle } from '../book/document';
import { fromNumber, type Fraction } from '../exact/fraction';
import type { CompiledItem, CompiledNode } from './compiled/compiled';
import type { CompiledScale } from './letters';

/**
 * All hurdles of one node that hold the percentage at a figure. Caps of failed hurdles are all applied, so their order
 * does not matter: sorted by `atLeast` from the highest down, a result fails the first so many, and `capAt[k]` is the
 * least cap of the first k + 1.
 */
export interface NodeHurdles {
  node: CompiledNode;
  atLeast: Float64Array;
  capAt: Float64Array;
  exactAtLeast: Fraction[];
  exactCapAt: Fraction[];
}

/** Any other hurdle: it asks for work to be there, holds at another node's figure, or gives a letter of its own. */
export interface OtherHurdle {
  node: CompiledNode;
  /** A percent; null: it must be handed in. */
  atLeast: Fraction | null;
  capAt: Fraction | CompiledNode | null;
  letter: string | null;
}

/** Something that is counted and takes off (contract, section 6). */
export interface CompiledCount {
  item: CompiledItem;
  over: Fraction;
  each: Fraction;
  percent: Fraction | null;
  letters: number;
  /** Null: no limit. */
  most: number | null;
}

/** Section 6, with whatever a variant leaves out gone. */
export interface CompiledHurdles {
  byNode: NodeHurdles[];
  /** In the order of the book. */
  others: OtherHurdle[];
  counts: CompiledCount[];
}

export const isNode = (cap: Fraction | CompiledNode | null): cap is CompiledNode => cap !== null && 'id' in cap;

export function compileHurdles(
  hurdles: readonly Hurdle[],
  nodes: ReadonlyMap<string, CompiledNode>,
  scale: CompiledScale | null,
  decimals: number,
): CompiledHurdles {
  const figures: { node: string; atLeast: number; capAt: number }[] = [];
  const others: OtherHurdle[] = [];
  const counts: CompiledCount[] = [];
  for (const h of hurdles) {
    const node = nodes.get(h.node)!;
    if (h.over !== undefined) {
      counts.push(compileCount(h, node as CompiledItem));
      continue;
    }
    const capAt = typeof h.capAt === 'object' && h.capAt.letter !== undefined ? letterCap(scale, h.capAt.letter, decimals) : h.capAt; // prettier-ignore
    // On this scale nothing is above the letter.
    if (capAt === null) continue;
    if (typeof h.atLeast === 'number' && typeof capAt === 'number')
      figures.push({ node: h.node, atLeast: h.atLeast, capAt }); // prettier-ignore
    else
      others.push({
        node,
        atLeast: typeof h.atLeast === 'number' ? fromNumber(h.atLeast) : null,
        capAt: capAt === undefined ? null : typeof capAt === 'number' ? fromNumber(capAt) : nodes.get(capAt.node!)!,
        letter: h.letter ?? null,
      });
  }
  return { byNode: groupByNode(figures, nodes), others, counts };
}

function compileCount({ over, each, takes, most }: Hurdle, item: CompiledItem): CompiledCount {
  return {
    item,
    over: fromNumber(over!),
    each: fromNumber(each!),
    percent: takes!.percent === undefined ? null : fromNumber(takes!.percent),
    letters: takes!.letters ?? 0,
    most: most ?? null,
  };
}

/**
 * The greatest figure with the book's decimals below the next higher band; null: nothing holds, as the letter is the
 * highest or none of the scale.
 */
export function letterCap(scale: CompiledScale | null, letter: string, decimals: number): number | null {
  const band = scale?.labels.indexOf(letter) ?? -1;
  if (band < 1) return null;
  // Bounds are whole ten-thousandths of a percent.
  return (Math.ceil(scale!.from[band - 1]! / 10 ** (4 - decimals)) - 1) / 10 ** decimals;
}

function groupByNode(
  hurdles: readonly { node: string; atLeast: number; capAt: number }[],
  nodes: ReadonlyMap<string, CompiledNode>,
): NodeHurdles[] {
  const byNode = new Map<string, { atLeast: number; capAt: number }[]>();
  for (const h of hurdles) {
    const list = byNode.get(h.node);
    if (list) list.push(h);
    else byNode.set(h.node, [h]);
  }
  return [...byNode].map(([id, list]) => {
    const sorted = [...list].sort((a, b) => b.atLeast - a.atLeast);
    let cap = Infinity;
    const caps = sorted.map((h) => (cap = Math.min(cap, h.capAt)));
    return {
      node: nodes.get(id)!,
      atLeast: Float64Array.from(sorted, (h) => h.atLeast),
      capAt: Float64Array.from(caps),
      exactAtLeast: sorted.map((h) => fromNumber(h.atLeast)),
      exactCapAt: caps.map(fromNumber),
    };
  });
}

/** How many of the node's hurdles fail, given which are not reached. */
export function failedCount(h: NodeHurdles, fails: (k: number) => boolean): number {
  let low = 0;
  let high = h.atLeast.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (fails(middle)) low = middle + 1;
    else high = middle;
  }
  return low;
}
