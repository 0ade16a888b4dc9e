import type { ShownScale } from '../book/document';
import { flatLine, type FlatLine } from '../estimate/flat-then';
import { fromNumber, type Fraction } from '../exact/fraction';
import { exactLine, onLine, type ExactLine } from '../exact/line';
import { roundedText } from '../exact/rounding';
import { toMultiple } from './then';

/** The scale on which the final percentage is shown once more (contract, section 8). */
export interface CompiledShown {
  source: ShownScale;
  line: ExactLine;
  step: Fraction | null;
  /** The line in doubles, how steep its steepest piece is, and how high it gets. */
  flat: FlatLine;
  steepest: number;
  highest: number;
}

export function compileShown(shown: ShownScale | undefined): CompiledShown | null {
  if (shown === undefined) return null;
  const { through } = shown;
  const slopes = through.slice(1).map(([x, y], i) => Math.abs(y - through[i]![1]) / (x - through[i]![0]));
  return {
    source: shown,
    line: exactLine(through),
    step: shown.step === undefined ? null : fromNumber(shown.step),
    flat: flatLine(through)!,
    steepest: Math.max(...slopes),
    highest: Math.max(...through.map(([, y]) => y)),
  };
}

/** The figure of an exact percentage, as a text. */
export function shownText({ line, step, source: { decimals, mode } }: CompiledShown, percent: Fraction): string {
  const figure = onLine(line, percent);
  // A multiple of the step has no more decimals than are written.
  return step === null ? roundedText(figure, decimals, mode) : roundedText(toMultiple(figure, step, mode), decimals, mode); // prettier-ignore
}
