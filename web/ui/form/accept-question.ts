import type { Submission } from '@contract/work/submissions';
import type { Question } from './ask-text';

/** What is asked before work is taken in that its student has begun and not handed in: why, without what is not all there. */
export function acceptQuestion(s: Submission): Question {
  const coming = s.files.filter((f) => f.sha256 === null).map((f) => f.name);
  const without = coming.length > 0 ? `Without ${coming.join(', ')}, which is not all here. ` : '';
  return {
    ...{ id: s.id, title: 'Take in what lies here', value: '', does: 'Take it in', most: 500 },
    label: `${without}Why, for the journal; the student is late by the rule unless you waive it`,
  };
}
