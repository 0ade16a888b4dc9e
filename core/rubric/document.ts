/** A step of a criterion: what it is worth, and its words. Points with at most four decimals; its id stays over versions. */
export interface Level {
  id: string;
  points: number;
  words: string;
}

/**
 * One thing that work is looked at for. `counts`: in the sum; `bonus`: on top of it; `shown`: its level is told and counts
 * nowhere. Levels by rising points, numbered from 1. `weight` where the rubric goes by weights. `step`: part points that
 * are given between levels; left out: half of the gap between two.
 */
export interface Criterion {
  id: string;
  title: string;
  words?: string;
  stands: 'counts' | 'bonus' | 'shown';
  levels: Level[];
  weight?: number;
  step?: number;
}

/**
 * What work is marked by (work.md, "Rubric"). `points`: the sum of the criteria's points; `scaled` where their maximum is
 * other than the assessment's and the sum is brought to it. `weights`: Σ weight × share ÷ Σ weight × the assessment's points.
 */
export interface Rubric {
  by: 'points' | 'weights';
  scaled?: boolean;
  criteria: Criterion[];
}

/** What one criterion was given: points, or that it is left out of both sums. A criterion without is not assessed yet. */
export type CriterionMark = { points: number } | { leftOut: true };
/** By the id of the criterion. */
export type RubricMarks = Readonly<Record<string, CriterionMark>>;

export const MOST_CRITERIA = 40;
export const MOST_LEVELS = 9;
/** Part points between two levels at most. */
export const MOST_PARTS = 200;
