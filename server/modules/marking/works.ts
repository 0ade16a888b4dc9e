import type { Db } from '../../kernel/database';
import { attemptsBySubmission } from './sql/criterion-marks';
import type { AssessmentPlace } from './sql/rubrics';

/** The attempts of one student as pieces of work: the submission each came by, else that it was recorded by hand. */
export interface Works {
  /** The piece of work of an attempt, counted from 1. */
  at(attempt: number): string;
  /** Which attempt a piece of work is; null: none any more. */
  attemptOf(work: string, attempts: number): number | null;
}

/** The piece of work that a score is for: the last attempt, or the first that will be. */
export const workInHand = (works: Works, attempts: number): string => works.at(Math.max(1, attempts));

/** By student; those without a submission are there too. */
export async function worksOf(
  db: Db,
  p: AssessmentPlace,
  enrolment: string | null = null,
): Promise<(enrolment: string) => Works> {
  const byStudent = new Map<string, Map<number, string>>();
  for (const s of await attemptsBySubmission(db, p, enrolment)) {
    const known = byStudent.get(s.enrolment);
    if (known) known.set(s.attempt, s.submission);
    else byStudent.set(s.enrolment, new Map([[s.attempt, s.submission]]));
  }
  return (student) => {
    const known = byStudent.get(student);
    const at = (attempt: number): string => known?.get(attempt) ?? `hand-${attempt}`;
    return {
      at,
      attemptOf(work, attempts) {
        for (let n = Math.max(1, attempts); n > 0; n--) if (at(n) === work) return n;
        return null;
      },
    };
  };
}
