import type { CompiledBook } from '../calculation/compiled/compile';
import { hurdleWarnings } from './hurdle-warnings';
import { rulePointer } from './places';
import type { Warning } from './warnings';

/** Letters that rounding decides, and hurdles that nobody can miss or meet. */
export function scaleWarnings(compiled: CompiledBook): Warning[] {
  return [...roundingWarnings(compiled), ...hurdleWarnings(compiled)];
}

function roundingWarnings(compiled: CompiledBook): Warning[] {
  const { book, scale } = compiled;
  if (scale === null) return [];
  const { decimals, mode } = book.rounding;
  const at = rulePointer('scales', book.scale!);
  const step = 10 ** (4 - decimals);
  const first = scale.labels[0]!;
  const bound = scale.from[0]! / 10_000;
  const unseen = scale.exact ? [] : unseenBands(compiled, at, step);
  if (mode === 'down' || bound === 0) return unseen;
  const says = scale.exact
    ? `Letters are looked up on the unrounded figure: somebody who is shown ${bound} % may have a little less, and not ${first}.`
    : `Letters are looked up on the rounded figure, so each begins a little earlier: ${first} at ${(scale.from[0]! - step / 2) / 10_000} %, which rounds to ${bound} %.`;
  return [{ kind: 'rounds-across-band', at, says }, ...unseen];
}

/** Bands that begin where no rounded figure can stand. */
function unseenBands(compiled: CompiledBook, at: string, step: number): Warning[] {
  const { book, scale } = compiled;
  const bands = book.rules!.scales![book.scale!]!.bands;
  return bands.flatMap((band, i): Warning[] => {
    const from = Math.round(band.from * 10_000);
    if (scale === null || from % step === 0) return [];
    const shown = (Math.ceil(from / step) * step) / 10_000;
    return [
      {
        kind: 'rounds-across-band',
        at: `${at}/bands/${i}`,
        says: `${band.label} begins at ${band.from} %, which a figure of ${book.rounding.decimals} decimals never shows: in fact it begins with what is shown as ${shown} %.`,
      },
    ];
  });
}
