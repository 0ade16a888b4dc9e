import type { Hurdle } from '../book/document';
import { fromNumber, type Fraction } from '../exact/fraction';
import type { CompiledNode } from './compile';

/**
 * All hurdles of one node. Caps of failed hurdles are all applied, so their order does not matter: sorted by `atLeast`
 * from the highest down, a result fails the first so many, and `capAt[k]` is the least cap of the first k + 1.
 */
export interface NodeHurdles {
  node: CompiledNode;
  atLeast: Float64Array;
  capAt: Float64Array;
  exactAtLeast: Fraction[];
  exactCapAt: Fraction[];
}

export function compileHurdles(hurdles: readonly Hurdle[], nodes: ReadonlyMap<string, CompiledNode>): NodeHurdles[] {
  const byNode = new Map<string, Hurdle[]>();
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
