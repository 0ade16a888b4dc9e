import type { CompiledBook } from '../calculation/compiled/compiled';
import type { CompiledVariant } from '../calculation/compiled/variants';
import { makeDropScratch, type DropScratch } from './drop-scratch';

/**
 * One student's tree in doubles. Ratios are of one, NaN where a group is skipped; how far each may be off is
 * `flat.errorRatio`. `isInconclusive`: some choice (what to drop) was too close for doubles; nothing here may then be
 * used.
 */
export interface Estimate {
  student: number;
  variant: CompiledVariant;
  isInconclusive: boolean;
  open: boolean;
  /** By group number, for each pass one after the other. */
  ratio: Float64Array;
  possible: Float64Array;
  /** The same worked out by itself, for the alsos that count it; there where `soloOf` is this run. */
  solo: Float64Array;
  soloPossible: Float64Array;
  soloOf: Int32Array;
  /** By also, for each pass; `alsoRun` as above. */
  alsoRatio: Float64Array;
  alsoPossible: Float64Array;
  alsoRun: Int32Array;
  /** With `reaching`: how many children reach it, of how many that are asked. */
  reached: Int32Array;
  asked: Int32Array;
  /** Counts the students, so that nothing of the one before is taken for this one. */
  run: number;
  /** By group number: the run in which low and high were worked out together. */
  lowHighOf: Int32Array;
  /** By group number: some item below it that counts is open, or what an also below it counts. */
  openBelow: Uint8Array;
  /** The same with what is counted by alsos that are extra credit: low and high are others than now. */
  movesBelow: Uint8Array;
  /** As it is: dropped by its own group. By item number, and by group number. */
  dropped: Uint8Array;
  droppedGroups: Uint8Array;
  scratch: DropScratch;
}

export function makeEstimate(compiled: CompiledBook): Estimate {
  const G = compiled.groups.length;
  const A = compiled.alsos.length;
  const soloSize = A === 0 ? 0 : 3 * G;
  return {
    student: -1,
    variant: compiled.variants[0]!,
    isInconclusive: false,
    open: false,
    ratio: new Float64Array(3 * G),
    possible: new Float64Array(3 * G),
    solo: new Float64Array(soloSize),
    soloPossible: new Float64Array(soloSize),
    soloOf: new Int32Array(soloSize),
    alsoRatio: new Float64Array(3 * A),
    alsoPossible: new Float64Array(3 * A),
    alsoRun: new Int32Array(3 * A),
    reached: new Int32Array(3 * A),
    asked: new Int32Array(3 * A),
    run: 0,
    lowHighOf: new Int32Array(G),
    openBelow: new Uint8Array(G),
    movesBelow: new Uint8Array(G),
    dropped: new Uint8Array(compiled.items.length),
    droppedGroups: new Uint8Array(G),
    scratch: makeDropScratch(Math.max(...compiled.variants.map((v) => v.flat.widest))),
  };
}
