import type { CompiledBook } from '../calculation/compiled/compiled';
import { shownText } from '../calculation/shown';
import { fraction, fromNumber, multiply } from '../exact/fraction';
import { roundedText } from '../exact/rounding';
import { U } from './choose-drops';
import { figureText, POWERS, roundSurely, type Figure } from './figures';
import { onFlatLine } from './flat-then';

/** A figure on the scale that the book shows it on once more; null: there is none. Undefined: too close to call. */
export function shownFigure({ shown }: CompiledBook, figure: Figure): string | null | undefined {
  if (shown === null || Number.isNaN(figure.scaled)) return null;
  const { decimals, mode } = shown.source;
  // A figure that was set is a decimal.
  if (figure.off === 0) return shownText(shown, fromNumber(figure.at));
  const { flat, steepest, highest } = shown;
  const y = onFlatLine(flat, figure.at);
  // The place on the line is off, the differences along it are, and the products at its ends.
  const off = steepest * (figure.off + 4 * figure.at * U) + 8 * highest * U;
  const unit = shown.step === null ? 1 / POWERS[decimals]! : shown.source.step!;
  const scaled = roundSurely(y / unit, (off + 2 * y * U) / unit, mode);
  if (Number.isNaN(scaled)) return undefined;
  if (shown.step === null) return figureText(scaled, decimals);
  return roundedText(multiply(fraction(scaled), shown.step), decimals, mode);
}
