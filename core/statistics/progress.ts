import type { CompiledBook, CompiledGroup } from '../calculation/compile';
import type { CellValue } from '../calculation/value';

/** The nominal weight of each item in the whole, 0 to 1, by item number: shares as if everything counted. */
export function nominalWeights(compiled: CompiledBook): number[] {
  const weights: number[] = compiled.items.map(() => 0);
  const possible = (g: CompiledGroup): number =>
    g.children.reduce(
      (sum, c) => sum + (c.extraCredit ? 0 : c.type === 'item' ? (c.counts ? c.source.points : 0) : possible(c)),
      0,
    );
  const walk = (g: CompiledGroup, weight: number): void => {
    const shares = g.children.map((c) => {
      if (c.extraCredit || (c.type === 'item' && !c.counts)) return 0;
      if (g.source.combine === 'equal') return 1;
      if (g.source.combine === 'weights') return c.source.weight ?? 1;
      return c.type === 'item' ? c.source.points : possible(c);
    });
    const sum = shares.reduce((a, b) => a + b, 0);
    g.children.forEach((c, i) => {
      const own = sum === 0 ? 0 : (weight * shares[i]!) / sum;
      if (c.type === 'item') weights[c.index] = own;
      else walk(c, own);
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
