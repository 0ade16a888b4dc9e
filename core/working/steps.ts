import type { AttemptUse, Combine, Curve, ItemState, Then } from '../book/document';
import type { Fraction } from '../exact/fraction';

/**
 * The working (contract, section 10) as data: one step for each thing that made a number what it is, in the order in
 * which it was done. Points, and percents where a name says so; moments and spans are milliseconds. The steps of an item,
 * its groups and the standing are enough to get every figure on paper. Sentences are made from them in sentences.ts and
 * nowhere else.
 */
export type Step = ItemStep | GroupStep | StandingStep;

export type ItemStep =
  | { step: 'state'; state: ItemState; due: number | null; closing: boolean; optional: boolean }
  | {
      /** Where the due date comes from, told where it is not simply the item's. */
      step: 'due';
      due: number;
      from: 'own' | 'section' | 'item';
      base: number;
      extra: number;
      allowances: number;
      allowance: number;
    }
  | {
      step: 'blank-rule';
      line: 'beforeDue' | 'afterDue';
      percent: Fraction | null;
      of: Fraction;
      optional: boolean;
    }
  | { step: 'set'; points: Fraction }
  | { step: 'marked'; attempt: number; attempts: number; points: Fraction; of: Fraction; mark: string | null }
  | { step: 'curve'; curve: Curve; from: Fraction; to: Fraction; of: Fraction }
  | {
      step: 'late';
      counted: number | null;
      skipped: number;
      due: number | null;
      units: number | null;
      unit: 'hour' | 'day';
      deduct: Fraction | null;
      percent: Fraction;
      limited: boolean;
      of: 'possible' | 'earned';
      base: Fraction;
      graceMinutes: number;
      /** How many of the units the bank gives, and what it then has left for what is due later. */
      fromBank: number;
      bankLeft: number | null;
      /** It came after it closed, at this moment; `isMore`: what that takes is more than the rule otherwise would. */
      closed: { at: number; isMore: boolean } | null;
      /** What the rule takes, before its floor. */
      takes: Fraction;
      deduction: Fraction;
    }
  | { step: 'on-time'; waived: boolean }
  | { step: 'late-floor'; floor: Fraction; of: Fraction; value: Fraction }
  | { step: 'retake-cap'; percent: Fraction; cap: Fraction; bites: boolean }
  | { step: 'attempt-counts'; attempt: number; value: Fraction }
  | {
      step: 'use';
      use: AttemptUse;
      /** What the newest makes of it, or what is won back; null for the other ways. */
      percent: Fraction | null;
      values: { attempt: number; value: Fraction }[];
      /** Null where several make it together. */
      chosen: number | null;
      value: Fraction;
    }
  | { step: 'counts-as'; earned: Fraction | null; of: Fraction; shown: boolean }
  | { step: 'share'; group: string; combine: Combine; share: Fraction; optional: boolean }
  | DroppedStep
  | AgainStep
  | { step: 'kept'; group: string; why: 'protected' | 'always' };

/** A node counts once more, in another place. */
export interface AgainStep {
  step: 'counted-again';
  group: string;
  percent: Fraction | null;
  dropped: boolean;
}

export interface DroppedStep {
  step: 'dropped';
  node: string;
  /** The node that it counts again; null: it counts nothing again. */
  again: string | null;
  group: string;
  /** By how much its group's percentage would move if it were kept (negative: keeping costs). */
  keepingMoves: Fraction;
  highest: boolean;
}

/** A node counted again: what it counts, how that came to be what it is here. */
export interface Again {
  of: string;
  /** What it counts, worked out by itself, in percent; null: skipped. */
  own: Fraction | null;
  /** It counts along a line; as all or nothing from so many percent on. */
  isBent: boolean;
  from: Fraction | null;
  /** How many of how many reach so many percent. */
  reaching: Fraction | null;
  reached: number;
  asked: number;
  standsIn: boolean;
}

export type GroupStep =
  | {
      step: 'child';
      node: string;
      again: Again | null;
      percent: Fraction;
      share: Fraction;
      combine: Combine;
      /** percent × share, of one: what it brings to the sum. */
      earned: Fraction;
      filled: boolean;
      item: boolean;
      /** What its own rule dropped inside a category. */
      dropped: DroppedStep[];
      /** What is counted again inside a category, and stays. */
      inside: { again: string; percent: Fraction }[];
    }
  | {
      step: 'child-open';
      node: string;
      again: Again | null;
      weight: Fraction;
      combine: Combine;
      why: 'nothing-yet' | 'left-out';
      item: boolean;
      state: ItemState | null;
    }
  | {
      step: 'extra';
      node: string;
      again: Again | null;
      combine: Combine;
      /** Null for an item of 0 points. */
      percent: Fraction | null;
      share: Fraction;
      earned: Fraction;
      /** Not done, and so nothing within its extra credit. */
      filled: boolean;
      /** What its earned points, or percent × share, are divided by: the shares that stay, or W of section 5. */
      base: Fraction;
      adds: Fraction;
    }
  | { step: 'extra-base'; base: Fraction; sum: Fraction; kept: number; all: number }
  | {
      step: 'together';
      percent: Fraction;
      shares: Fraction;
      combine: Combine;
      earned: Fraction;
      /** What extra credit adds after its limit. */
      extra: Fraction;
      /** Of a `decaying` group: what the newest makes of it, in percent. */
      newest: Fraction | null;
    }
  | { step: 'extra-limit'; most: Fraction; together: Fraction; bites: boolean }
  | { step: 'then'; then: Then; from: Fraction; to: Fraction }
  | { step: 'weights-sum'; sum: Fraction }
  | { step: 'group-cap'; cap: Fraction; bites: boolean }
  | { step: 'group-floor'; floor: Fraction; bites: boolean }
  | { step: 'possible'; points: Fraction }
  | AgainStep
  | { step: 'empty'; group: string };

export type StandingStep =
  | {
      /** The rules as some students have them, this one among them. `leftOut`: nodes that are not asked of them. */
      step: 'variant';
      name: string;
      hasWeights: boolean;
      leftOut: { node: string; again: string | null }[];
      /** Of its own, none, or (null) those of the book. */
      letters: 'own' | 'none' | null;
    }
  | {
      step: 'hurdle';
      node: string;
      again: string | null;
      /** Null: it must be handed in. */
      atLeast: Fraction | null;
      /** What a failing one holds at, in percent: a figure, what another node has, or a letter's greatest figure. */
      capAt: Fraction | null;
      capNode: string | null;
      /** What that counts again. */
      capAgain: string | null;
      capLetter: string | null;
      /** The letter that a failing one gives instead. */
      letter: string | null;
      reached: Fraction | null;
      waits: boolean;
      failed: boolean;
      bit: boolean;
    }
  | {
      /** Something that is counted and takes off. */
      step: 'count';
      node: string;
      /** How many there are; null: it is left out. */
      earned: Fraction | null;
      over: Fraction;
      each: Fraction;
      most: number | null;
      times: Fraction;
      /** What each takes: percent of the whole, or bands of the letter. */
      percent: Fraction | null;
      letters: number;
    }
  | { step: 'override'; percent: Fraction | null; letter: string | null; reason: string | null }
  | { step: 'rounded'; exact: Fraction; rounded: string; decimals: number; mode: 'half-up' | 'half-even' | 'down' }
  | {
      step: 'letter';
      letter: string;
      from: Fraction | null;
      /** Bands that were taken off, and the letter before. */
      taken: number;
      before: string | null;
      /** The band is looked up on the unrounded figure. */
      exact: boolean;
      next: { label: string; short: Fraction } | null;
    }
  | { step: 'shown'; shown: string; label: string }
  | { step: 'range'; low: string; high: string };
