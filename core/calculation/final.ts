import type { Override, Student } from '../book/document';
import { fraction, fromNumber, HUNDRED, multiply, ZERO, type Fraction } from '../exact/fraction';
import { roundedText, scaledInteger } from '../exact/rounding';
import type { CompiledBook } from './compiled/compiled';
import { afterHurdles, bandsTaken, letterOfHurdles } from './consequences';
import { evaluateTree, type TreeOutcome } from './groups';
import { bandOfPercent } from './letters';
import { shownText } from './shown';
import { valuesOf, type CellValue } from './cells/value';
import { variantAt, type CompiledVariant } from './compiled/variants';

/** The final percentage of one student (contract, section 6), exact. Percents are 0 to 100 and up. */
export interface FinalPercent {
  /** The root's ratio × 100, or null where it is skipped. */
  fromRoot: Fraction | null;
  exact: Fraction | null;
  rounded: string | null;
  letter: string | null;
  /** The band of the percentage in the student's scale, whatever letter an override or a hurdle gives; −1: none. */
  band: number;
  /** On the scale that the book shows it on once more; null without a percentage, or such a scale. */
  shown: string | null;
}

/** Everything about one student in fractions: each item, each group, the final percentage, what is still open. */
export interface StudentOutcome {
  /** The student's number in the book. */
  index: number;
  student: Student;
  variant: CompiledVariant;
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
  const variant = variantAt(compiled, index);
  const values = valuesOf(compiled, index);
  const tree = evaluateTree(variant, values);
  const final = finalPercent(compiled, index, values, tree);
  const open = values.some((v) => v.open);
  return {
    index,
    student,
    variant,
    values,
    tree,
    final,
    override: compiled.overrides.get(student.id) ?? null,
    low: open ? asIf(compiled, index, values, 'low') : final,
    high: open ? asIf(compiled, index, values, 'high') : final,
    open,
  };
}

/** The values with every open item at nothing, or at full points (section 7); nothing is open then. */
export function closedValues(compiled: CompiledBook, values: readonly CellValue[], end: 'low' | 'high'): CellValue[] {
  return values.map((v, i) =>
    v.open ? { ...v, earned: end === 'low' ? ZERO : compiled.items[i]!.points, open: false, taken: end } : v,
  );
}

function asIf(compiled: CompiledBook, s: number, values: readonly CellValue[], end: 'low' | 'high'): FinalPercent {
  const taken = closedValues(compiled, values, end);
  return finalPercent(compiled, s, taken, evaluateTree(variantAt(compiled, s), taken));
}

/** Section 6 and 8 of one student, by their number, from what the tree gives. */
export function finalPercent(
  compiled: CompiledBook,
  s: number,
  values: readonly CellValue[],
  tree: TreeOutcome,
): FinalPercent {
  const { hurdles, scale } = variantAt(compiled, s);
  const fromRoot = tree.root.ratio === null ? null : multiply(tree.root.ratio, HUNDRED);
  const worked = { values, tree, closing: compiled.closing };
  const override = compiled.overrides.get(compiled.students[s]!.id);
  const isSet = override?.percent !== undefined;
  const exact = isSet
    ? fromNumber(override.percent!)
    : fromRoot === null
      ? null
      : afterHurdles(hurdles, worked, fromRoot);
  if (exact === null)
    return { fromRoot, exact, rounded: null, letter: override?.letter ?? null, band: -1, shown: null };
  const { decimals, mode } = compiled.book.rounding;
  const whole = fraction(scaledInteger(exact, decimals, mode), 10 ** decimals);
  let band = bandOfPercent(scale, exact, whole);
  if (band >= 0 && !isSet) band = Math.min(band + bandsTaken(hurdles, values), scale!.labels.length - 1);
  const ownLetter = isSet ? null : letterOfHurdles(hurdles, worked);
  return {
    fromRoot,
    exact,
    rounded: roundedText(exact, decimals, mode),
    letter: override?.letter ?? ownLetter ?? (band < 0 ? null : scale!.labels[band]!),
    band,
    shown: compiled.shown === null ? null : shownText(compiled.shown, exact),
  };
}
