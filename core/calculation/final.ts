import type { Hurdle, Override, Scale, Student } from '../book/document';
import { compare, divide, fromNumber, HUNDRED, least, multiply, ZERO, type Fraction } from '../exact/fraction';
import { roundedText } from '../exact/rounding';
import type { CompiledBook, CompiledNode } from './compile';
import { evaluateTree, type TreeOutcome } from './groups';
import { itemValue, type ItemValue } from './value';

/** The final percentage of one student, step by step (contract, section 6). Percents are 0 to 100 and up. */
export interface FinalPercent {
  /** The root's ratio × 100, or null where it is skipped. */
  fromRoot: Fraction | null;
  hurdles: { hurdle: Hurdle; reached: Fraction | null; waits: boolean; failed: boolean; bit: boolean }[];
  exact: Fraction | null;
  rounded: string | null;
  letter: string | null;
}

/** Everything about one student: each item, each group, the final percentage, what is still open. */
export interface StudentOutcome {
  student: Student;
  values: ItemValue[];
  tree: TreeOutcome;
  final: FinalPercent;
  override: Override | null;
  low: FinalPercent;
  high: FinalPercent;
  /** True where at least one item is open. */
  open: boolean;
}

/** Works out one student of a compiled book, by their number in it. */
export function workOutStudent(compiled: CompiledBook, index: number): StudentOutcome {
  const student = compiled.book.students[index]!;
  const entries = compiled.entries[index]!;
  const values = compiled.items.map((item) => itemValue(compiled, item, student, entries[item.index]));
  const tree = evaluateTree(compiled.root, values);
  const final = finalPercent(compiled, student.id, values, tree);
  const open = values.some((v) => v.open);
  return {
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

/** The final percentage with every open item at nothing, or at full points (section 7). */
function asIf(
  compiled: CompiledBook,
  student: string,
  values: readonly ItemValue[],
  end: 'low' | 'high',
): FinalPercent {
  const taken = values.map((v, i) =>
    v.open ? { ...v, earned: end === 'low' ? ZERO : compiled.items[i]!.points, open: false } : v,
  );
  return finalPercent(compiled, student, taken, evaluateTree(compiled.root, taken));
}

function finalPercent(
  compiled: CompiledBook,
  student: string,
  values: readonly ItemValue[],
  tree: TreeOutcome,
): FinalPercent {
  const fromRoot = tree.root.ratio === null ? null : multiply(tree.root.ratio, HUNDRED);
  let exact = fromRoot;
  const hurdles = (compiled.book.hurdles ?? []).map((hurdle) => {
    const node = compiled.nodes.get(hurdle.node)!;
    const reached = reachedBy(node, values, tree);
    const waits = isOpen(node, values);
    const failed = reached !== null && !waits && compare(reached, fromNumber(hurdle.atLeast)) < 0;
    const cap = fromNumber(hurdle.capAt);
    const bit = failed && exact !== null && compare(exact, cap) > 0;
    if (failed && exact !== null) exact = least(exact, cap);
    return { hurdle, reached, waits, failed, bit };
  });
  const override = compiled.overrides.get(student);
  if (override?.percent !== undefined) exact = fromNumber(override.percent);
  const { decimals, mode } = compiled.book.rounding;
  const rounded = exact === null ? null : roundedText(exact, decimals, mode);
  const letter = override?.letter ?? (exact === null ? null : letterOf(compiled.scale, exact, rounded!));
  return { fromRoot, hurdles, exact, rounded, letter };
}

/** What a node has reached, in percent; null where it is skipped. */
function reachedBy(node: CompiledNode, values: readonly ItemValue[], tree: TreeOutcome): Fraction | null {
  if (node.type === 'group') {
    const ratio = tree.outcomes[node.index]!.ratio;
    return ratio === null ? null : multiply(ratio, HUNDRED);
  }
  const earned = values[node.index]!.earned;
  return earned === null ? null : multiply(divide(earned, node.points), HUNDRED);
}

/** A half-marked node waits: section 6. Only items that count, and are not optional, keep a group open. */
function isOpen(node: CompiledNode, values: readonly ItemValue[]): boolean {
  if (node.type === 'item') return values[node.index]!.open;
  return node.children.some((child) => (child.type === 'item' && !child.counts ? false : isOpen(child, values)));
}

/** The band with the highest `from` that the figure reaches (section 8); null without a scale. */
export function letterOf(scale: Scale | null, exact: Fraction, rounded: string): string | null {
  if (scale === null) return null;
  const figure = scale.lookUp === 'exact' ? exact : fromNumber(Number(rounded));
  let best: { label: string; from: number } | null = null;
  for (const band of scale.bands)
    if (compare(figure, fromNumber(band.from)) >= 0 && (best === null || band.from > best.from)) best = band;
  return best?.label ?? null;
}
