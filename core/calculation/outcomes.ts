import type { Fraction } from '../exact/fraction';
import type { CompiledAlso, CompiledGroup, CompiledNode } from './compiled/compiled';
import type { Choice } from './drops';

/** A child as its group sees it (contract, section 5). `ratio` is of one, `earned` is ratio × share. */
export interface ChildShare extends Choice {
  node: CompiledNode;
  possible: Fraction;
  /** Taken as nothing: by `whenEmpty: "zero"`, or as a piece of extra credit that is not done. */
  filled: boolean;
}

/** An extra-credit child with what it adds to the ratio. `ratio` null: it has no points. */
export interface ExtraShare {
  node: CompiledNode;
  ratio: Fraction | null;
  share: Fraction;
  earned: Fraction;
  filled: boolean;
  adds: Fraction;
}

/** How a group came about, step by step. `ratio` null: the group is skipped. */
export interface GroupOutcome {
  group: CompiledGroup;
  counting: ChildShare[];
  staying: ChildShare[];
  droppedLowest: ChildShare[];
  droppedHighest: ChildShare[];
  plain: Fraction | null;
  extras: ExtraShare[];
  /** What extra credit adds, all together, at most `extraAtMost`. */
  extra: Fraction;
  /** Before `then`, cap and floor; and after `then`. */
  beforeLimits: Fraction | null;
  afterThen: Fraction | null;
  ratio: Fraction | null;
  possible: Fraction;
  /** What blanks below it were taken for. */
  fill: Fill;
  filled: boolean;
}

/** A node counted again (section 5.2). `ratio` null: it is skipped. */
export interface AlsoOutcome {
  also: CompiledAlso;
  /** What it counts, worked out by itself, before its line. */
  own: Fraction | null;
  /** With `reaching`: the children that reach it, and those that are asked. */
  reached: { reach: CompiledNode[]; asked: CompiledNode[] } | null;
  ratio: Fraction | null;
  possible: Fraction;
  dropped: boolean;
}

/** One pass over the tree for one student. `outcomes` is by group number, `alsos` by also, `dropped` by item. */
export interface TreeOutcome {
  root: GroupOutcome;
  outcomes: GroupOutcome[];
  alsos: AlsoOutcome[];
  dropped: boolean[];
}

/**
 * What skipped items are taken for, in a group and all below it: as they are; blank and missing ones as nothing, where a
 * category would be empty; pieces of extra credit that are not done as nothing.
 */
export type Fill = 'none' | 'blanks' | 'pieces';
