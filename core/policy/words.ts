import type { Deviation } from './deviations';
import type { PolicyArea } from './document';

/** What each matter is called in a sentence. */
export const AREA_LABELS: Record<PolicyArea, string> = {
  blank: 'blanks',
  late: 'lateness',
  calendar: 'closed days',
  allowance: 'late allowances',
  marks: 'named marks',
  rounding: 'rounding',
  letters: 'letters',
};

/** "letters", "lateness and letters", "blanks, lateness and letters": each matter once. */
export function listAreas(departures: readonly Pick<Deviation, 'matter'>[]): string {
  const words = [...new Set(departures.map((d) => AREA_LABELS[d.matter]))];
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}`;
}
