import type { AttemptUse, Combine, Curve, ItemState } from '../book/document';
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
  | { step: 'kept'; group: string; why: 'protected' | 'always' };

export interface DroppedStep {
  step: 'dropped';
  node: string;
  group: string;
  /** By how much its group's percentage would move if it were kept (negative: keeping costs). */
  keepingMoves: Fraction;
  highest: boolean;
}

export type GroupStep =
  | {
      step: 'child';
      node: string;
      percent: Fraction;
      share: Fraction;
      combine: Combine;
      /** percent × share, of one: what it brings to the sum. */
      earned: Fraction;
      filled: boolean;
      item: boolean;
      /** What its own rule dropped inside a category. */
      dropped: DroppedStep[];
    }
  | {
      step: 'child-open';
      node: string;
      weight: Fraction;
      combine: Combine;
      why: 'nothing-yet' | 'left-out';
      item: boolean;
      state: ItemState | null;
    }
  | {
      step: 'extra';
      node: string;
      combine: Combine;
      /** Null for an item of 0 points. */
      percent: Fraction | null;
      share: Fraction;
      earned: Fraction;
      /** What its earned points, or percent × share, are divided by: the shares that stay, or W of section 5. */
      base: Fraction;
      adds: Fraction;
    }
  | { step: 'extra-base'; base: Fraction; sum: Fraction; kept: number; all: number }
  | { step: 'together'; percent: Fraction; shares: Fraction; combine: Combine; earned: Fraction; extra: Fraction }
  | { step: 'weights-sum'; sum: Fraction }
  | { step: 'group-cap'; cap: Fraction; bites: boolean }
  | { step: 'group-floor'; floor: Fraction; bites: boolean }
  | { step: 'possible'; points: Fraction }
  | { step: 'empty'; group: string };

export type StandingStep =
  | {
      step: 'hurdle';
      node: string;
      atLeast: Fraction;
      capAt: Fraction;
      reached: Fraction | null;
      waits: boolean;
      failed: boolean;
      bit: boolean;
    }
  | { step: 'override'; percent: Fraction | null; letter: string | null; reason: string | null }
  | { step: 'rounded'; exact: Fraction; rounded: string; decimals: number; mode: 'half-up' | 'half-even' | 'down' }
  | {
      step: 'letter';
      letter: string;
      from: Fraction | null;
      /** The band is looked up on the unrounded figure. */
      exact: boolean;
      next: { label: string; short: Fraction } | null;
    }
  | { step: 'range'; low: string; high: string };
