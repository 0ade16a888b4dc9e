import type { RulesPart } from '@core/book/change';
import type { Rubric } from '@core/rubric/document';

/** How far an assessment is on the demo's day. */
export type Phase = 'released' | 'draft' | 'marking' | 'open';

export interface DemoAssessment {
  id: string;
  title: string;
  category: string;
  points: number;
  /** Local day and hour of 2026; null: no date. */
  due: string | null;
  phase: Phase;
  more?: Record<string, unknown>;
  /** Handed in here; how, where that is said. Without it: on paper. */
  work?: Record<string, unknown>;
  /** What it is marked by. */
  rubric?: Rubric;
  /** An end note is written for everybody with a score; and what is said to all of them. */
  feedback?: { comment: string };
}

export interface DemoBook {
  id: string;
  title: string;
  sections: { id: string; title: string }[];
  staff: { login: string; role: 'teacher' | 'co-teacher' | 'marker' }[];
  showsStanding: boolean;
  rules: RulesPart;
  assessments: DemoAssessment[];
  /** In what its teacher departs from the school's rules, and why. */
  departs?: { rules: Partial<RulesPart>; reason: string };
  /** Which students, as a span of the list of all. */
  students: [number, number];
}
