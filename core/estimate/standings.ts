import { toNumber } from '../exact/fraction';
import { scaledInteger } from '../exact/rounding';
import type { CompiledBook } from '../calculation/compile';
import { estimateStudent, makeEstimate, PASS, type Estimate } from './estimate';
import { bandOfFigure, figureText, finalFigure, type Figure } from './figures';
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
  /** The band of the percentage in the compiled scale, the highest 0, whatever letter an override gives; −1: none. */
  band: Int32Array;
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
  figure: { scaled: NaN, at: NaN },
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
  const band = bandOfFigure(compiled, figure, override?.percent !== undefined);
  if (band === -2) return false;
  out.band[to] = band;
  out.letter[to] = override?.letter ?? (band < 0 ? null : compiled.scale!.labels[band]!);
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
  };
}
