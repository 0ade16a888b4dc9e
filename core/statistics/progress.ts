import type { CompiledBook, CompiledGroup, CompiledNode } from '../calculation/compiled/compile';
import type { CellValue } from '../calculation/cells/value';

/** The nominal weight of each item in the whole, 0 to 1, by item number: shares as if everything counted. */
export function nominalWeights(compiled: CompiledBook): number[] {
  const weights: number[] = compiled.items.map(() => 0);
  const possible = (c: CompiledNode): number => {
    if (c.type === 'item') return c.counts ? c.source.points : 0;
    if (c.type === 'also') return c.source.points ?? possible(c.of);
    return c.children.reduce((sum, n) => sum + (n.extraCredit || n.type === 'also' ? 0 : possible(n)), 0);
  };
  /** What is counted again brings its weight to what it counts. */
  const give = (c: CompiledNode, weight: number): void => {
    if (c.type === 'item') weights[c.index]! += weight;
    else if (c.type === 'also') give(c.of, weight);
    else walk(c, weight);
  };
  const walk = (g: CompiledGroup, weight: number): void => {
    const shares = g.children.map((c) => {
      if (c.extraCredit || (c.type === 'item' && !c.counts)) return 0;
      // It takes the place of another, and adds no share.
      if (c.type === 'also' && c.standsIn) return 0;
      if (g.source.combine === 'weights') return c.source.weight ?? 1;
      return g.source.combine === 'points' ? possible(c) : 1;
    });
    const sum = shares.reduce((a, b) => a + b, 0);
    g.children.forEach((c, i) => {
      give(c, sum === 0 ? 0 : (weight * shares[i]!) / sum);
    });
  };
  walk(compiled.root, 1);
  return weights;
}

/** How much of the weight is settled over all students, 0 to 1: scored, set, excused or missing. */
export function markedShare(compiled: CompiledBook, values: readonly (readonly CellValue[])[]): number {
  if (values.length === 0) return 0;
  const weights = nominalWeights(compiled);
  let settled = 0;
  for (const student of values)
    student.forEach((v, i) => {
      if (v.state !== 'blank' && v.state !== 'pending' && v.state !== 'awaiting') settled += weights[i]!;
    });
  return settled / values.length;
}
