import type { TickCounts } from './ticks';

/** Where an assessment stands between its planning and its release, in the order in which it goes through them. */
export const PHASES = ['planned', 'open', 'due', 'marked', 'released'] as const;
export type Phase = (typeof PHASES)[number];

/**
 * The phase of an assessment from where its students stand: `planned` while it has no date and nothing has come, `open`
 * until it is due, `due` while somebody waits or nobody is marked, `marked` while a score is not out, then `released`.
 * What is missing or excused waits for nobody. `due` and `asOf` are moments in ISO form, UTC.
 */
export function phaseOf(ticks: TickCounts, due: string | null, asOf: string): Phase {
  const { released, draft, toMark, nothing } = ticks;
  const scored = released + draft;
  const waits = toMark > 0 || nothing > 0 || scored === 0;
  if (due === null) {
    if (scored + toMark === 0) return 'planned';
    if (waits) return 'open';
  } else {
    if (Date.parse(due) > Date.parse(asOf) && waits) return 'open';
    if (waits) return 'due';
  }
  return draft > 0 ? 'marked' : 'released';
}
