import type { BookDocument, ResultDocument, StudentResult } from '../book/document';
import { compare, fraction, fromNumber, HUNDRED, least, multiply, toText, type Fraction } from '../exact/fraction';
import { earnedAt, KIND, stateOf } from './cells/cells';
import { compileBook, type CompiledBook } from './compiled/compile';
import { exactRatios, isSum } from './exact-ratios';
import { workOutStudent, type StudentOutcome } from './final';
import { failedCount } from './hurdles';
import {
  emptyStandings,
  makeStandingsWorker,
  workOutStanding,
  standingAt,
  type StandingsWorker,
  type Standings,
} from '../estimate/standings';

/** What works out results one after the other, with room for one standing. */
export interface Resulter {
  reckoner: StandingsWorker;
  place: Standings;
  /** The estimate and sums are enough for whoever has no variant. */
  isSum: boolean;
}

export const makeResulter = (compiled: CompiledBook): Resulter => ({
  reckoner: makeStandingsWorker(compiled),
  place: emptyStandings(compiled, 1),
  isSum: isSum(compiled, compiled.variants[0]!) && !hasConsequences(compiled),
});

/** Hurdles that do more than hold at a figure, or another scale to show it on. */
const hasConsequences = ({ shown, variants: [base] }: CompiledBook): boolean =>
  shown !== null || base!.hurdles.others.length + base!.hurdles.counts.length > 0;

/** One student's part of the result document (contract, section 9), by their number. */
export function resultOf(resulter: Resulter, s: number): StudentResult {
  const { reckoner, place } = resulter;
  const { compiled } = reckoner;
  place.exactStandings.clear();
  // What doubles could not tell is worked out in fractions from the first step.
  const isEstimated = resulter.isSum && compiled.variantOf[s] === 0;
  if (!isEstimated || !workOutStanding(reckoner, s, place, 0))
    return studentResult(compiled, workOutStudent(compiled, s));
  const ratios = exactRatios(compiled, reckoner.estimate);
  const { percent, letter, low, high } = standingAt(place, 0);
  return {
    id: compiled.students[s]!.id,
    percent,
    exact: percent === null ? null : toText(exactPercent(reckoner, ratios)),
    letter,
    low,
    high,
    items: compiled.items.map((item, i) => {
      const at = s * compiled.cells.width + i;
      const kind = compiled.cells.kind[at]!;
      return {
        id: item.id,
        state: stateOf(kind),
        earned: kind & KIND.skipped ? null : earnedText(compiled, at),
        dropped: place.dropped[i] === 1,
      };
    }),
    groups: compiled.groups.map((group, i) => ({ id: group.id, exact: percentText(ratios[i]!) })),
  };
}

function earnedText(compiled: CompiledBook, at: number): string {
  const earned = compiled.cells.earned[at]!;
  return Number.isSafeInteger(earned) && !(compiled.cells.kind[at]! & KIND.isExact)
    ? String(earned)
    : toText(earnedAt(compiled.cells, at)!);
}

const percentText = (ratio: Fraction | null): string | null =>
  ratio === null ? null : toText(multiply(ratio, HUNDRED));

/** The unrounded percentage of an estimated student, who has one (section 6). */
function exactPercent(reckoner: StandingsWorker, ratios: readonly (Fraction | null)[]): Fraction {
  const { compiled, estimate } = reckoner;
  const override = compiled.overrides.get(compiled.students[estimate.student]!.id);
  if (override?.percent !== undefined) return fromNumber(override.percent);
  let exact = multiply(ratios[0]!, HUNDRED);
  for (const h of estimate.variant.hurdles.byNode) {
    let ratio: Fraction | null;
    if (h.node.type === 'also') continue;
    if (h.node.type === 'group') ratio = estimate.openBelow[h.node.index] === 1 ? null : ratios[h.node.index]!;
    else {
      const at = estimate.student * compiled.cells.width + h.node.index;
      const earned = compiled.cells.kind[at]! & KIND.open ? null : earnedAt(compiled.cells, at);
      ratio = earned === null ? null : multiply(earned, fraction(h.node.points.d, h.node.points.n));
    }
    if (ratio === null) continue;
    const reached = multiply(ratio, HUNDRED);
    const failed = failedCount(h, (k) => compare(reached, h.exactAtLeast[k]!) < 0);
    if (failed > 0) exact = least(exact, h.exactCapAt[failed - 1]!);
  }
  return exact;
}

/** The same from a student worked out in fractions. */
export function studentResult(compiled: CompiledBook, outcome: StudentOutcome): StudentResult {
  const { final } = outcome;
  return {
    id: outcome.student.id,
    percent: final.rounded,
    exact: final.exact === null ? null : toText(final.exact),
    letter: final.letter,
    low: outcome.low.rounded,
    high: outcome.high.rounded,
    items: compiled.items.map((item, i) => {
      const value = outcome.values[i]!;
      return {
        id: item.id,
        state: value.state,
        earned: value.earned === null ? null : toText(value.earned),
        dropped: outcome.tree.dropped[i] === true,
      };
    }),
    groups: compiled.groups.map((group, i) => ({ id: group.id, exact: percentText(outcome.tree.outcomes[i]!.ratio) })),
    ...(compiled.alsos.length > 0 && {
      alsos: outcome.tree.alsos.map(({ also, ratio, dropped }) => ({
        id: also.id,
        exact: percentText(ratio),
        dropped,
      })),
    }),
    ...(compiled.shown !== null && { shown: final.shown }),
  };
}

/** The whole result of a checked book. */
export function computeBook(book: BookDocument): ResultDocument {
  const compiled = compileBook(book);
  const resulter = makeResulter(compiled);
  return {
    format: 'last-tally.result/1',
    students: book.students.map((_, s) => resultOf(resulter, s)),
  };
}
