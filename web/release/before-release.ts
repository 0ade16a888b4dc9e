import type { ReleasePart, SlipState, SlipStates, Unfinished } from '@contract/slips';
import { UNFINISHED } from '@contract/slips';
import { listed } from '@core/words/count';

/** What looks unfinished, in words that stand behind a number of students or a name. */
export const UNFINISHED_WORDS: Record<Unfinished, string> = {
  'no-feedback': 'without feedback',
  criteria: 'with criteria that are not given',
  waiting: 'with work that waits to be marked',
  'second-look': 'marked for a second look',
  writing: 'that somebody else has marked in the last ten minutes',
};

/** Students to whom one thing applies that looks unfinished. */
export interface UnfinishedGroup {
  what: Unfinished;
  enrolments: string[];
}

/** Who will see what by a release, who is left out, and what looks unfinished. */
export interface BeforeRelease {
  /** How many have something of each part. */
  have: Record<ReleasePart, number>;
  /** Have something of the parts that are released. */
  having: string[];
  /** Have no score where scores are released: they read that there is none yet, and how that counts. */
  unscored: string[];
  /** Have something that students do not see as it is, and are not among those picked. */
  leftOut: string[];
  unfinished: UnfinishedGroup[];
}

/** Something of it students do not see as it is. */
export const isNews = (s: SlipState, parts: readonly ReleasePart[] = ['score', 'rubric', 'feedback']): boolean =>
  parts.some((part) => s[part] === 'draft' || s[part] === 'changed');

export function beforeRelease(
  states: SlipStates,
  picked: ReadonlySet<string>,
  parts: readonly ReleasePart[],
): BeforeRelease {
  const those = states.students.filter((s) => picked.has(s.enrolment));
  const have = (part: ReleasePart): number => those.filter((s) => s[part] !== 'none').length;
  return {
    have: { score: have('score'), rubric: have('rubric'), feedback: have('feedback') },
    having: those.filter((s) => parts.some((part) => s[part] !== 'none')).map((s) => s.enrolment),
    unscored: parts.includes('score') ? those.filter((s) => s.score === 'none').map((s) => s.enrolment) : [],
    leftOut: states.students.filter((s) => !picked.has(s.enrolment) && isNews(s, parts)).map((s) => s.enrolment),
    unfinished: UNFINISHED.flatMap((what): UnfinishedGroup[] => {
      const enrolments = those.filter((s) => s.unfinished.includes(what)).map((s) => s.enrolment);
      return enrolments.length > 0 ? [{ what, enrolments }] : [];
    }),
  };
}

const SEEN: Record<ReleasePart, string> = { score: 'score with its working', rubric: 'rubric', feedback: 'feedback' };

/** "score with its working, rubric and feedback": of the parts those that somebody has. */
export function partWords(parts: readonly ReleasePart[], have: Record<ReleasePart, number>): string {
  return listed(parts.filter((p) => have[p] > 0).map((p) => SEEN[p]));
}
