import { compare, fromNumber, subtract, type Fraction } from '../exact/fraction';
import type { CompiledBook, CompiledItem } from '../calculation/compiled/compile';
import { finalPercent, workOutStudent, type FinalPercent } from '../calculation/final';
import { evaluateTree } from '../calculation/groups';

/** Something that could be so of one item of one student. `dropped`: by its category, besides what its rule drops. */
export type Supposition = { kind: 'excused' } | { kind: 'dropped' } | { kind: 'raised'; points: number };

export interface Supposed {
  before: FinalPercent;
  after: FinalPercent;
  /** after − before in percent, exact; null where one of them is none. */
  moves: Fraction | null;
}

/** By how much the standing would change (contract, section 10). Nothing in the book is touched. */
export function suppose(compiled: CompiledBook, s: number, item: CompiledItem, what: Supposition): Supposed {
  const outcome = workOutStudent(compiled, s);
  const values = [...outcome.values];
  const value = values[item.index]!;
  if (what.kind === 'excused') values[item.index] = { ...value, state: 'excused', earned: null, open: false };
  if (what.kind === 'raised')
    values[item.index] = { ...value, state: 'scored', earned: fromNumber(what.points), open: false };
  const tree = evaluateTree(outcome.variant, values, what.kind === 'dropped' ? item : undefined);
  const after = finalPercent(compiled, s, values, tree);
  const before = outcome.final;
  const moves = before.exact === null || after.exact === null ? null : subtract(after.exact, before.exact);
  return { before, after, moves };
}

/** True where the supposition would lower the standing, or take it away. */
export const lowers = ({ before, after, moves }: Supposed): boolean =>
  moves === null ? before.exact !== null && after.exact === null : compare(moves, fromNumber(0)) < 0;
