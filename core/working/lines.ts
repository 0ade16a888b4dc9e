import type { Fraction } from '../exact/fraction';
import type { Step } from './steps';
import { exact, short } from './wording';

/**
 * One line of the working slip: what it is, the sentence under it and the figure at the right. `tone`: `cost` took
 * something from the student, `sum` closes a part, `quiet` did nothing here, `plain` is the rest.
 */
export interface Line {
  label: string;
  detail: string;
  figure: string;
  tone: 'plain' | 'cost' | 'sum' | 'quiet';
}

export interface Wording {
  /** The title of an item or group by its id. */
  name(id: string): string;
  timeZone: string;
}

export const line = (label: string, detail: string, figure = '', tone: Line['tone'] = 'plain'): Line => ({
  label,
  detail,
  figure,
  tone,
});

export type Of<K extends Step['step']> = Extract<Step, { step: K }>;
export const percents = (a: Fraction): string => `${short(a)} %`;
/** Of rules and hurdles, which have up to four decimals. */
export const exactPercent = (a: Fraction): string => `${exact(a)} %`;
