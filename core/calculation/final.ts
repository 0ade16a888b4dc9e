import type { Override, Student } from '../book/document';
import {
  compare,
  divide,
  fraction,
  fromNumber,
  HUNDRED,
  least,
  multiply,
  ZERO,
  type Fraction,
} from '../exact/fraction';
import { roundedText, scaledInteger } from '../exact/rounding';
import type { CompiledBook, CompiledNode } from './compile';
import { evaluateTree, type TreeOutcome } from './groups';
import { failedCount } from './hurdles';
import { bandOfPercent } from './letters';
import { valuesOf, type CellValue } from './value';

/** The final percentage of one student (contract, section 6), exact. Percents are 0 to 100 and up. */
export interface FinalPercent {
  /** The root's ratio × 100, or null where it is skipped. */
  fromRoot: Fraction | null;
  exact: Fraction | null;
  rounded: string | null;
  letter: string | null;
  /** The band of the percentage in the compiled scale, whatever letter an override gives; −1: none. */
  band: number;
}

/** Everything about one student in fractions: each item, each group, the final percentage, what is still open. */
export interface StudentOutcome {
  /** The student's number in the book. */
  index: number;
  student: Student;
  values: CellValue[];
  tree: TreeOutcome;
  final: FinalPercent;
  override: Override | null;
  low: FinalPercent;
  high: FinalPercent;
  /** True where at least one item is open. */
  open: boolean;
}

/** Works out one student of a compiled book in fractions, by their number in it. */
export function workOutStudent(compiled: CompiledBook, index: number): StudentOutcome {
  const student = compiled.students[index]!;
  const values = valuesOf(compiled, index);
  const tree = evaluateTree(compiled.root, values);
  const final = finalPercent(compiled, student.id, values, tree);
  const open = values.some((v) => v.open);
  return {
    index,
    student,
    values,
    tree,
    final,
    override: compiled.overrides.get(student.id) ?? null,
    low: open ? asIf(compiled, student.id, values, 'low') : final,
    high: open ? asIf(compiled, student.id, values, 'high') : final,
    open,
  };
}

/** The values with every open item at nothing, or at full points (section 7); nothing is open then. */
export function closedValues(compiled: CompiledBook, values: readonly CellValue[], end: 'low' | 'high'): CellValue[] {
  return values.map((v, i) =>
    v.open ? { ...v, earned: end === 'low' ? ZERO : compiled.items[i]!.points, open: false } : v,
  );
}

function asIf(
  compiled: CompiledBook,
  student: string,
  values: readonly CellValue[],
  end: 'low' | 'high',
): FinalPercent {
  const taken = closedValues(compiled, values, end);
  return finalPercent(compiled, student, taken, evaluateTree(compiled.root, taken));
}

export function finalPercent(
  compiled: CompiledBook,
  student: string,
  values: readonly CellValue[],
  tree: TreeOutcome,
): FinalPercent {
  const fromRoot = tree.root.ratio === null ? null : multiply(tree.root.ratio, HUNDRED);
  let exact = fromRoot;
  for (const h of compiled.hurdles) {
    if (exact === null) break;
    const reached = reachedBy(h.node, values, tree);
    if (reached === null || isOpen(h.node, values)) continue;
    const failed = failedCount(h, (k) => compare(reached, h.exactAtLeast[k]!) < 0);
    if (failed > 0) exact = least(exact, h.exactCapAt[failed - 1]!);
  }
  const override = compiled.overrides.get(student);
  if (override?.percent !== undefined) exact = fromNumber(override.percent);
  const { decimals, mode } = compiled.book.rounding;
  if (exact === null) return { fromRoot, exact, rounded: null, letter: override?.letter ?? null, band: -1 };
  const whole = fraction(scaledInteger(exact, decimals, mode), 10 ** decimals);
  const band = bandOfPercent(compiled.scale, exact, whole);
  return {
    fromRoot,
    exact,
    rounded: roundedText(exact, decimals, mode),
    letter: override?.letter ?? (band < 0 ? null : compiled.scale!.labels[band]!),
    band,
  };
}

/** What a node has reached, in percent; null where it is skipped. */
export function reachedBy(node: CompiledNode, values: readonly CellValue[], tree: TreeOutcome): Fraction | null {
  if (node.type === 'group') {
    const ratio = tree.outcomes[node.index]!.ratio;
    return ratio === null ? null : multiply(ratio, HUNDRED);
  }
  const earned = values[node.index]!.earned;
  return earned === null ? null : multiply(divide(earned, node.points), HUNDRED);
}

/** A half-marked node waits: section 6. Only items that count, and are not optional, keep a group open. */
export function isOpen(node: CompiledNode, values: readonly CellValue[]): boolean {
  if (node.type === 'item') return values[node.index]!.open;
  return node.children.some((child) => (child.type === 'item' && !child.counts ? false : isOpen(child, values)));
}
