import type { Scale } from '../book/document';
import { compare, fromNumber, type Fraction } from '../exact/fraction';

/** A scale with its bands from the highest down (contract, section 8). `from` in ten-thousandths of a percent, whole. */
export interface CompiledScale {
  exact: boolean;
  labels: string[];
  from: Float64Array;
  bounds: Fraction[];
}

export function compileScale(scale: Scale): CompiledScale {
  const bands = [...scale.bands].sort((a, b) => b.from - a.from);
  return {
    exact: scale.lookUp === 'exact',
    labels: bands.map((b) => b.label),
    from: Float64Array.from(bands, (b) => Math.round(b.from * 10_000)),
    bounds: bands.map((b) => fromNumber(b.from)),
  };
}

/** The first band from the top that the figure reaches, by halving; the last begins at 0. */
export function bandOf(scale: CompiledScale, reaches: (band: number) => boolean): number {
  let low = 0;
  let high = scale.labels.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (reaches(middle)) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** The band of a percentage: of the rounded figure, or where the scale says so of the exact one; −1 without a scale. */
export function bandOfPercent(scale: CompiledScale | null, exact: Fraction, rounded: Fraction): number {
  if (scale === null) return -1;
  const figure = scale.exact ? exact : rounded;
  return bandOf(scale, (band) => compare(figure, scale.bounds[band]!) >= 0);
}
