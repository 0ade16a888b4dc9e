import { remember, supposeScore, KIND } from '../calculation/cells/cells';
import type { CompiledBook, CompiledItem } from '../calculation/compiled/compile';
import { variantAt } from '../calculation/compiled/variants';
import {
  emptyStandings,
  makeStandingsWorker,
  workOutStanding,
  type StandingsWorker,
  type Standings,
} from '../estimate/standings';

/** What one open item must bring for one band to be reached, in points of at most four decimals. */
export interface Need {
  item: string;
  band: string;
  /** With the other open items at full points, and at nothing: 0 is already enough; null: not even full points are. */
  withOthersFull: number | null;
  withOthersNone: number | null;
}

/**
 * For every open item of a student and every band: the least score that reaches it (contract, section 10). Scores are
 * looked for in steps of 0.0001 points between nothing and full points, by halving: that is the least wherever a
 * higher score never lowers the standing (see {@link risesWithScores}). Empty without a scale, or where the percentage
 * is overridden, since no score can then change it. `only`: the label of the one band asked for. Cells are put back as
 * they were.
 */
export function needsOf(compiled: CompiledBook, s: number, only?: string): Need[] {
  const { cells } = compiled;
  const { scale } = variantAt(compiled, s);
  const overridden = compiled.overrides.get(compiled.students[s]!.id)?.percent !== undefined;
  if (scale === null || overridden) return [];
  const base = s * cells.width;
  const open = compiled.items.filter((item) => (cells.kind[base + item.index]! & KIND.open) !== 0);
  const restore = open.map((item) => remember(cells, base + item.index));
  const reckoner = makeStandingsWorker(compiled);
  const place = emptyStandings(compiled, 1);
  const needs: Need[] = [];
  try {
    for (const item of open) {
      const least = (full: boolean): (number | null)[] => {
        for (const other of open) supposeScore(cells, base + other.index, full ? other.source.points : 0);
        return leastPerBand(reckoner, s, item, place, only);
      };
      const [withOthersFull, withOthersNone] = [least(true), least(false)];
      scale.labels.forEach((band, b) => {
        // Everybody reaches the last band.
        if (b < scale.labels.length - 1 && (only === undefined || only === band))
          needs.push({
            item: item.id,
            band,
            withOthersFull: withOthersFull[b]!,
            withOthersNone: withOthersNone[b]!,
          });
      });
    }
  } finally {
    for (const put of restore) put();
  }
  return needs;
}

/** For each band from the highest down: the least score of the item with which it is reached. */
function leastPerBand(
  reckoner: StandingsWorker,
  s: number,
  item: CompiledItem,
  place: Standings,
  only: string | undefined,
): (number | null)[] {
  const { compiled } = reckoner;
  const at = s * compiled.cells.width + item.index;
  const known = new Map<number, number>();
  const bandWith = (steps: number): number => {
    let band = known.get(steps);
    if (band === undefined) {
      supposeScore(compiled.cells, at, steps / 10_000);
      workOutStanding(reckoner, s, place, 0);
      known.set(steps, (band = place.band[0]!));
    }
    return band;
  };
  const full = Math.round(item.source.points * 10_000);
  return variantAt(compiled, s).scale!.labels.map((label, band) => {
    if (only !== undefined && only !== label) return null;
    const reaches = (steps: number): boolean => bandWith(steps) >= 0 && bandWith(steps) <= band;
    if (reaches(0)) return 0;
    if (!reaches(full)) return null;
    let [low, high] = [0, full];
    while (high - low > 1) {
      const middle = Math.floor((low + high) / 2);
      if (reaches(middle)) high = middle;
      else low = middle;
    }
    return high / 10_000;
  });
}
