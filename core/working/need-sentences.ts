import type { Need } from './needs';
import { line, type Line, type Wording } from './lines';

/** What an open item must bring for a band, as a line; the figure is the least that can do. */
export function needLines(needs: readonly Need[], words: Wording): Line[] {
  return needs.map(({ item, band, withOthersFull: full, withOthersNone: none }) => {
    const label = `${band} by ${words.name(item)}`;
    if (full === null) return line(label, 'out of reach, even with full points on all that is open', '–', 'quiet');
    if (none === 0) return line(label, 'nothing more is needed, even with nothing on the rest', '', 'quiet');
    if (full === none) return line(label, 'so much is needed at least', `≥ ${full}`, 'quiet');
    const best = full === 0 ? 'nothing more is needed' : `at least ${full}`;
    const worst = none === null ? 'out of reach' : `at least ${none}`;
    return line(
      label,
      `${best} with full points on the rest that is open, ${worst} with nothing on it`,
      full === 0 ? '' : `≥ ${full}`,
      'quiet',
    );
  });
}
