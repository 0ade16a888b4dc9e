import { amountIn } from '../../../ui/text/amount';
import type { Draft } from '../draft';
import type { WordPiece } from './sentence';

/** "0 → 0, 80 → 100" */
export const pairWords = (pairs: readonly (readonly [number, number])[]): string =>
  pairs.map(([x, y]) => `${x} → ${y}`).join(', ');

/** Pairs as they are typed: "0 → 0, 80 → 100", also with an equals sign, a colon or ">" between; null: it is none. */
export function pairsIn(text: string): [number, number][] | null {
  const pairs = text
    .split(/[;,]\s+|\s*;\s*|\n/)
    .filter((p) => p.trim() !== '')
    .map((p) => p.split(/\s*(?:→|->|=>|>|=|:)\s*/).map((n) => amountIn(n.replace(/%\s*$/, '').trim())));
  if (pairs.length === 0 || pairs.some((p) => p.length !== 2 || p.some((n) => n === null))) return null;
  return pairs as [number, number][];
}

const rises = (pairs: readonly [number, number][]): boolean => pairs.every(([x], i) => i === 0 || x > pairs[i - 1]![0]);

/** Points of a line, or with `least` 1 of steps, that are typed one after the other. */
export function lineWord(
  label: string,
  pairs: [number, number][],
  set: (pairs: [number, number][]) => Draft,
  least = 2,
): WordPiece {
  return {
    kind: 'word',
    label,
    value: pairWords(pairs),
    set: (text) => {
      const read = pairsIn(text);
      if (read === null || read.length < least)
        return { message: least === 2 ? 'Say at least two points, as in 0 → 0, 80 → 100.' : 'Say at least one step, as in 90 → 100.' }; // prettier-ignore
      return rises(read) ? set(read) : { message: 'The first numbers must rise from one to the next.' };
    },
  };
}
