import { isDone, KIND } from '../calculation/cells';
import type { CompiledBook } from '../calculation/compiled';
import { variantAt, type CompiledVariant } from '../calculation/variants';
import { estimateAlso } from './also';
import { makeDropScratch, type DropScratch } from './choose-drops';
import { combine } from './combine';
import { CHILD } from './flat-tree';

/** The three ways of section 7: as it is, every open item at nothing, every open item at full points. */
export const PASS = { now: 0, low: 1, high: 2 } as const;
export type Pass = 0 | 1 | 2;

/** What skipped items are taken for: see `Fill` in calculation/groups.ts. */
export const FILL = { none: 0, blanks: 1, pieces: 2 } as const;
export type FillCode = 0 | 1 | 2;

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
    openBelow: new Uint8Array(G),
    movesBelow: new Uint8Array(G),
    dropped: new Uint8Array(compiled.items.length),
    droppedGroups: new Uint8Array(G),
    scratch: makeDropScratch(Math.max(...compiled.variants.map((v) => v.flat.widest))),
  };
}

/** Works out all three passes of a student, by their number. */
export function estimateStudent(compiled: CompiledBook, e: Estimate, student: number): void {
  const { cells } = compiled;
  e.student = student;
  e.variant = variantAt(compiled, student);
  e.isInconclusive = e.variant.flat.exactOnly;
  e.open = false;
  e.run++;
  if (e.isInconclusive) return;
  const base = student * cells.width;
  for (let i = 0; i < cells.width; i++)
    if (cells.kind[base + i]! & KIND.open) {
      e.open = true;
      break;
    }
  // What a variant leaves out is neither worked out nor dropped.
  if (e.variant.leftOut.size > 0) {
    e.dropped.fill(0);
    e.droppedGroups.fill(0);
    e.ratio.fill(NaN);
  }
  estimateGroup(compiled, e, 0, PASS.now, FILL.none);
  if (!e.open || e.isInconclusive) return;
  estimateGroup(compiled, e, 0, PASS.low, FILL.none);
  estimateGroup(compiled, e, 0, PASS.high, FILL.none);
}

/** One group with all below it and all that it counts; step 6 of section 5.1 is its end. */
export function estimateGroup(compiled: CompiledBook, e: Estimate, g: number, pass: Pass, wanted: FillCode): void {
  const { flat } = e.variant;
  const G = compiled.groups.length;
  const at = pass * G + g;
  const pieces = flat.pieces[g]!;
  const fill = pieces === null ? wanted : isBegun(compiled, e, pieces) ? FILL.pieces : FILL.none;
  // Extra credit goes by its own pieces wherever it stands.
  const isSolo = e.alsoRun.length > 0 && (wanted === FILL.none || pieces !== null);
  if (isSolo && e.soloOf[at] === e.run) return;
  // Where nothing is open below, low and high are as it is; under a group that may fill blanks they need not be.
  if (pass !== PASS.now && e.movesBelow[g] === 0 && flat.underFills[g] === 0) {
    // Hurdles may look at groups further down.
    const to = looksBelow(e.variant) ? flat.end[g]! : g + 1;
    e.ratio.copyWithin(at, g, to);
    e.possible.copyWithin(at, g, to);
    if (isSolo) keepSolo(e, at);
    for (const a of flat.reaching[g] ?? []) {
      e.reached[pass * flat.alsoOf.length + a] = e.reached[a]!;
      e.asked[pass * flat.alsoOf.length + a] = e.asked[a]!;
    }
    return;
  }
  estimateOnce(compiled, e, g, pass, fill, isSolo);
  if (isSolo) keepSolo(e, at);
}

function estimateOnce(compiled: CompiledBook, e: Estimate, g: number, pass: Pass, fill: FillCode, isSolo: boolean): void {
  const { flat } = e.variant;
  let open = flat.nested[g] === 1 ? estimateChildren(compiled, e, g, pass, fill) : 0;
  const own = combine(compiled, e, g, pass, fill, open, isSolo);
  if (own > 0 || fill !== FILL.none || flat.fills[g] === 0) return;
  open = flat.nested[g] === 1 ? estimateChildren(compiled, e, g, pass, FILL.blanks) : 0;
  combine(compiled, e, g, pass, FILL.blanks, open, isSolo);
}

function keepSolo(e: Estimate, at: number): void {
  e.solo[at] = e.ratio[at]!;
  e.soloPossible[at] = e.possible[at]!;
  e.soloOf[at] = e.run;
}

const looksBelow = ({ hurdles }: CompiledVariant): boolean => hurdles.byNode.length + hurdles.others.length > 0;

/** Groups and alsos of a group. Gives what keeps it open: 1 for it and all above, 2 where only low and high move. */
function estimateChildren(compiled: CompiledBook, e: Estimate, g: number, pass: Pass, fill: FillCode): number {
  const { flat } = e.variant;
  let open = 0;
  for (let c = flat.childFrom[g]!; c < flat.childFrom[g + 1]!; c++) {
    const ref = flat.child[c]!;
    if (flat.childFlags[c]! & CHILD.also) {
      const a = ref - flat.items;
      open |= estimateAlso(compiled, e, a, pass) & (flat.alsoOptional[a] === 1 ? 2 : 3);
    } else if (ref < 0) {
      estimateGroup(compiled, e, ~ref, pass, fill);
      open |= e.openBelow[~ref]! | (e.movesBelow[~ref]! << 1);
    }
  }
  return open;
}

function isBegun(compiled: CompiledBook, e: Estimate, pieces: Int32Array): boolean {
  const base = e.student * compiled.cells.width;
  for (const i of pieces) if (isDone(compiled.cells.kind[base + i]!)) return true;
  return false;
}
