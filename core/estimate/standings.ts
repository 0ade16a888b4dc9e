import { toNumber } from '../exact/fraction';
import { scaledInteger } from '../exact/rounding';
import type { CompiledBook } from '../calculation/compiled/compiled';
import { estimateStudent, makeEstimate, PASS, type Estimate } from './estimate';
import { bandOfFigure, failing, figureText, finalFigure, timesIn, type Figure } from './figures';
import { shownFigure } from './shown-figure';
import { workOutStudent, type FinalPercent, type StudentOutcome } from '../calculation/final';

/** A student's standing (contract, sections 6 to 8): rounded texts, the letter, and doubles for drawing (NaN: none). */
export interface Standing {
  percent: string | null;
  letter: string | null;
  low: string | null;
  high: string | null;
  at: number;
  lowAt: number;
  highAt: number;
  /** On the scale that the book shows it on once more; null: there is none. */
  shown: string | null;
}

/**
 * The standings of a book as columns by student number. `percent`, `low` and `high` are the rounded figures × 10^decimals,
 * whole, NaN where there is none; `dropped` is 1 at student × items + item. `second`: how many were worked out in
 * fractions because doubles could not tell.
 */
export interface Standings {
  decimals: number;
  percent: Float64Array;
  low: Float64Array;
  high: Float64Array;
  at: Float64Array;
  lowAt: Float64Array;
  highAt: Float64Array;
  letter: (string | null)[];
  /** The band in the student's scale, the highest 0, whatever letter an override or a hurdle gives; −1: none. */
  band: Int32Array;
  /** Empty where the book has no such scale. */
  shown: (string | null)[];
  dropped: Uint8Array;
  exactCount: number;
  /** Figures past 2^53, which no column holds. */
  exactStandings: Map<number, Standing>;
}

/** What works out standings one after the other; it may be kept as long as the compiled book. */
export interface StandingsWorker {
  compiled: CompiledBook;
  estimate: Estimate;
  figure: Figure;
}

export const makeStandingsWorker = (compiled: CompiledBook): StandingsWorker => ({
  compiled,
  estimate: makeEstimate(compiled),
  figure: { scaled: NaN, at: NaN, off: 0 },
});

/** Columns for so many students. */
export function emptyStandings(compiled: CompiledBook, students: number): Standings {
  const column = (): Float64Array => new Float64Array(students);
  return {
    decimals: compiled.book.rounding.decimals,
    percent: column(),
    low: column(),
    high: column(),
    at: column(),
    lowAt: column(),
    highAt: column(),
    letter: new Array<string | null>(students).fill(null),
    band: new Int32Array(students).fill(-1),
    shown: compiled.shown === null ? [] : new Array<string | null>(students).fill(null),
    dropped: new Uint8Array(students * compiled.items.length),
    exactCount: 0,
    exactStandings: new Map(),
  };
}

/** Every standing of the book: in doubles where these are sure, in fractions where not, the same to the last digit. */
export function standingsOf(compiled: CompiledBook): Standings {
  const out = emptyStandings(compiled, compiled.students.length);
  const reckoner = makeStandingsWorker(compiled);
  for (let s = 0; s < compiled.students.length; s++) workOutStanding(reckoner, s, out, s);
  return out;
}

/** Works out student s into place `to` of the columns. True where doubles were enough. */
export function workOutStanding(reckoner: StandingsWorker, s: number, out: Standings, to: number): boolean {
  const { compiled, estimate } = reckoner;
  estimateStudent(compiled, estimate, s);
  if (!estimate.isInconclusive && settle(reckoner, out, to)) {
    out.dropped.set(estimate.dropped, to * compiled.items.length);
    return true;
  }
  out.exactCount++;
  settleExactly(compiled, workOutStudent(compiled, s), out, to);
  return false;
}

function settle(reckoner: StandingsWorker, out: Standings, to: number): boolean {
  const { compiled, estimate, figure } = reckoner;
  if (!finalFigure(compiled, estimate, PASS.now, figure)) return false;
  const override =
    compiled.overrides.size === 0 ? undefined : compiled.overrides.get(compiled.students[estimate.student]!.id);
  let band = bandOfFigure(compiled, estimate, figure);
  if (band === -2) return false;
  let own: string | null | undefined = null;
  if (override?.percent === undefined) {
    band = lowered(compiled, estimate, band);
    own = ownLetter(compiled, estimate, figure);
  }
  if (band === -2 || own === undefined) return false;
  out.band[to] = band;
  out.letter[to] = override?.letter ?? own ?? (band < 0 ? null : estimate.variant.scale!.labels[band]!);
  if (compiled.shown !== null) {
    const shown = shownFigure(compiled, figure);
    if (shown === undefined) return false;
    out.shown[to] = shown;
  }
  out.percent[to] = out.low[to] = out.high[to] = figure.scaled;
  out.at[to] = out.lowAt[to] = out.highAt[to] = figure.at;
  if (!estimate.open) return true;
  if (!finalFigure(compiled, estimate, PASS.low, figure)) return false;
  out.low[to] = figure.scaled;
  out.lowAt[to] = figure.at;
  if (!finalFigure(compiled, estimate, PASS.high, figure)) return false;
  out.high[to] = figure.scaled;
  out.highAt[to] = figure.at;
  return true;
}

/** The band after all that is counted and takes off bands; −2: doubles cannot tell. */
function lowered(compiled: CompiledBook, e: Estimate, band: number): number {
  const { hurdles, scale } = e.variant;
  if (band < 0) return band;
  let taken = 0;
  for (const count of hurdles.counts) if (count.letters > 0) taken += timesIn(compiled, e, count) * count.letters;
  return Number.isNaN(taken) ? -2 : Math.min(band + taken, scale!.labels.length - 1);
}

/** The letter of the first failing hurdle that has one; null: there is none. Undefined: too close to call. */
function ownLetter(compiled: CompiledBook, e: Estimate, figure: Figure): string | null | undefined {
  if (Number.isNaN(figure.scaled)) return null;
  for (const h of e.variant.hurdles.others) {
    if (h.letter === null) continue;
    const fails = failing(compiled, e, PASS.now, h);
    if (fails !== false) return fails ? h.letter : undefined;
  }
  return null;
}

function settleExactly(compiled: CompiledBook, outcome: StudentOutcome, out: Standings, to: number): void {
  const { decimals, mode } = compiled.book.rounding;
  const scaled = (f: FinalPercent): number => (f.exact === null ? NaN : Number(scaledInteger(f.exact, decimals, mode)));
  const standing = standingOfOutcome(outcome);
  out.percent[to] = scaled(outcome.final);
  out.low[to] = scaled(outcome.low);
  out.high[to] = scaled(outcome.high);
  out.at[to] = standing.at;
  out.lowAt[to] = standing.lowAt;
  out.highAt[to] = standing.highAt;
  out.letter[to] = standing.letter;
  out.band[to] = outcome.final.band;
  if (compiled.shown !== null) out.shown[to] = standing.shown;
  if ([out.percent[to], out.low[to], out.high[to]].some((x) => x! > Number.MAX_SAFE_INTEGER))
    out.exactStandings.set(to, standing);
  outcome.tree.dropped.forEach((d, i) => (out.dropped[to * compiled.items.length + i] = d ? 1 : 0));
}

export function standingOfOutcome(outcome: StudentOutcome): Standing {
  const at = (f: FinalPercent): number => (f.exact === null ? NaN : toNumber(f.exact));
  return {
    percent: outcome.final.rounded,
    letter: outcome.final.letter,
    low: outcome.low.rounded,
    high: outcome.high.rounded,
    at: at(outcome.final),
    lowAt: at(outcome.low),
    highAt: at(outcome.high),
    shown: outcome.final.shown,
  };
}

/** One place of the columns, as texts. */
export function standingAt(columns: Standings, s: number): Standing {
  const beyond = columns.exactStandings.get(s);
  if (beyond) return beyond;
  return {
    percent: figureText(columns.percent[s]!, columns.decimals),
    letter: columns.letter[s]!,
    low: figureText(columns.low[s]!, columns.decimals),
    high: figureText(columns.high[s]!, columns.decimals),
    at: columns.at[s]!,
    lowAt: columns.lowAt[s]!,
    highAt: columns.highAt[s]!,
    shown: columns.shown[s] ?? null,
  };
}
