import { wordsOf } from '@core/text/rich-text';
import type { EndNoteWords, FeedbackWith } from '@contract/work/feedback';
import type { Db } from '../../kernel/database';
import { Breathing } from '../../kernel/breathing';
import { Refusal } from '../../kernel/refusal';
import { assessmentsNamed } from '../books';
import { commentsOn } from '../work-marks';
import { docOf, noteText } from './note-text';
import { endNotesOf } from './sql/end-notes';

/** A phrase as it is looked for: whatever name was filled in, whatever spaces and lines are between its words. */
export function phrasePattern(words: string): RegExp {
  const part = (text: string): string =>
    text
      .trim()
      .split(/\s+/)
      .map((w) => w.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&'))
      .join('\\s+');
  return new RegExp(words.trim().split('{given}').map(part).join('\\s*[^\\n]{0,80}?\\s*'), 'u');
}

interface Place {
  school: string;
  book: string;
  assessment: string;
}

async function requireAssessment(db: Db, p: Place): Promise<void> {
  if ((await assessmentsNamed(db, p.school, p.book, [p.assessment])).length === 0)
    throw new Refusal('not-found', 'There is no such assessment in this book.');
}

/** Every end note of an assessment in its words. */
async function* wordsOfNotes(db: Db, p: Place): AsyncGenerator<{ enrolment: string; work: string; words: string }> {
  const breathing = new Breathing();
  for (const { enrolment, work, state } of await endNotesOf(db, p)) {
    await breathing.pause();
    yield { enrolment, work, words: wordsOf(noteText(docOf(new Uint8Array(state)))) };
  }
}

/** Letters of a note in a list. */
const LISTED = 300;

/** What each end note of an assessment says, in short. */
export async function endNoteWords(db: Db, p: Place): Promise<EndNoteWords> {
  await requireAssessment(db, p);
  const all: EndNoteWords = [];
  for await (const n of wordsOfNotes(db, p)) {
    const words = n.words.replace(/\s+/g, ' ').trim();
    if (words !== '') all.push({ ...n, words: words.slice(0, LISTED) });
  }
  return all;
}

/** Students whose feedback on one assessment has the words of a phrase: in an end note, or in a comment on their work. */
export async function feedbackWith(db: Db, p: Place, words: string): Promise<FeedbackWith> {
  await requireAssessment(db, p);
  if (words.trim() === '' || words.length > 1_000) return { enrolments: [] };
  const pattern = phrasePattern(words);
  const found = new Set<string>();
  for await (const n of wordsOfNotes(db, p)) if (pattern.test(n.words)) found.add(n.enrolment);
  for (const c of await commentsOn(db, p)) if (pattern.test(c.comment)) found.add(c.enrolment);
  return { enrolments: [...found].sort() };
}
