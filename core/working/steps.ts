import type { Combine, Curve, ItemState } from '../book/document';
import type { Fraction } from '../exact/fraction';

/**
 * The working (contract, section 10) as data: one step for each thing that made a number what it is, in the order in
 * which it was done. Points, and percents where a name says so; moments are milliseconds since 1970.
 * Sentences are made from these in sentences.ts and nowhere else.
 */
export type Step =
  | { step: 'state'; state: ItemState; due: number | null; closing: boolean; optional: boolean }
  | { step: 'blank-rule'; line: 'beforeDue' | 'afterDue'; percent: Fraction | null; optional: boolean }
  | { step: 'set'; points: Fraction }
  | { step: 'marked'; attempt: number; attempts: number; points: Fraction; of: Fraction; mark: string | null }
  | { step: 'curve'; curve: Curve; from: Fraction; to: Fraction }
  | {
      step: 'late';
      counted: number | null;
      skipped: number;
      due: number | null;
      units: number | null;
      unit: 'hour' | 'day';
      stated: boolean;
      deduct: Fraction | null;
      percent: Fraction;
      limited: boolean;
      of: 'possible' | 'earned';
      base: Fraction;
      graceMinutes: number;
      deduction: Fraction;
    }
  | { step: 'on-time'; waived: boolean }
  | { step: 'late-floor'; floor: Fraction; value: Fraction }
  | { step: 'retake-cap'; percent: Fraction; cap: Fraction; bites: boolean }
  | {
      step: 'use';
      use: 'best' | 'latest' | 'first' | 'mean';
      values: { attempt: number; value: Fraction }[];
      chosen: number | null;
    }
  | { step: 'counts-as'; earned: Fraction | null; of: Fraction; shown: boolean }
  | { step: 'share'; group: string; combine: Combine; share: Fraction; optional: boolean }
  | { step: 'dropped'; node: string; group: string; keepingMoves: Fraction; highest: boolean }
  | { step: 'kept'; group: string; why: 'protected' | 'always' }
  | {
      step: 'child';
      node: string;
      percent: Fraction;
      share: Fraction;
      combine: Combine;
      earned: Fraction;
      filled: boolean;
      item: boolean;
      /** What its own rule dropped inside a category. */
      dropped: Extract<Step, { step: 'dropped' }>[];
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
  | { step: 'extra'; node: string; adds: Fraction }
  | { step: 'together'; percent: Fraction; shares: Fraction; combine: Combine; earned: Fraction }
  | { step: 'weights-sum'; sum: Fraction }
  | { step: 'group-cap'; cap: Fraction; bites: boolean }
  | { step: 'group-floor'; floor: Fraction; bites: boolean }
  | { step: 'empty'; group: string }
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
  | { step: 'letter'; letter: string; from: Fraction | null; next: { label: string; short: Fraction } | null }
  | { step: 'range'; low: string; high: string };
