import type { Departure } from './deviations';
import type { Matter } from './document';

/** What each matter is called in a sentence. */
export const MATTER_WORDS: Record<Matter, string> = {
  blank: 'blanks',
  late: 'lateness',
  calendar: 'closed days',
  allowance: 'late allowances',
  marks: 'named marks',
  rounding: 'rounding',
  letters: 'letters',
};

/** "letters", "lateness and letters", "blanks, lateness and letters": each matter once. */
export function mattersIn(departures: readonly Pick<Departure, 'matter'>[]): string {
  const words = [...new Set(departures.map((d) => MATTER_WORDS[d.matter]))];
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}`;
}
