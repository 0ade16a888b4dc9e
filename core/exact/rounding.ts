import { fromNumber, multiply, type Fraction } from './fraction';

export type RoundingMode = 'half-up' | 'half-even' | 'down';

/** a × 10^decimals as a whole number, rounded by the mode. A tie at half-up goes away from zero. */
export function scaledInteger(a: Fraction, decimals: number, mode: RoundingMode): bigint {
  const scaled = multiply(a, fromNumber(10 ** decimals));
  const n = BigInt(scaled.n);
  const d = BigInt(scaled.d);
  const negative = n < 0n;
  const size = negative ? -n : n;
  let whole = size / d;
  const twice = (size % d) * 2n;
  if (mode === 'half-up' && twice >= d) whole += 1n;
  if (mode === 'half-even' && (twice > d || (twice === d && whole % 2n === 1n))) whole += 1n;
  return negative ? -whole : whole;
}

/** The rounded figure with exactly `decimals` digits after the point (contract, section 8). */
export function roundedText(a: Fraction, decimals: number, mode: RoundingMode): string {
  const whole = scaledInteger(a, decimals, mode);
  const digits = (whole < 0n ? -whole : whole).toString().padStart(decimals + 1, '0');
  const sign = whole < 0n ? '-' : '';
  return decimals === 0 ? sign + digits : `${sign}${digits.slice(0, -decimals)}.${digits.slice(-decimals)}`;
}

/**
 * A figure for reading: at most two decimals, half-up, with no needless zeros ("17", "12.5", "71.67").
 * Used for cells, categories and sentences (states.md).
 */
export function shortText(a: Fraction, decimals = 2): string {
  const text = roundedText(a, decimals, 'half-up');
  return text.includes('.') ? text.replace(/\.?0+$/, '') : text;
}
