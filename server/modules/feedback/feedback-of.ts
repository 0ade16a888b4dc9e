import { isEmptyText, type RichText } from '@core/text/rich-text';
import type { Db } from '../../kernel/database';
import { Breathing } from '../../kernel/breathing';
import { personName } from '../accounts';
import { docOf, noteText } from './note-text';
import { endNotesOf } from './sql/end-notes';
import { attachmentsToGive, type FeedbackAttachmentRow } from './sql/feedback-attachments';

/** All that students may be given of what was written and recorded for one assessment. */
export interface AssessmentFeedback {
  notes: { enrolment: string; work: string; text: RichText; by: string; person: string; changedAt: string }[];
  /** `enrolment` null: for everybody. */
  attachments: FeedbackAttachmentRow[];
}

/** End notes that say something, recordings and files that are all here; nothing that is for staff alone. */
export async function feedbackOf(
  db: Db,
  p: { school: string; book: string; assessment: string },
): Promise<AssessmentFeedback> {
  const breathing = new Breathing();
  const notes: AssessmentFeedback['notes'] = [];
  for (const { state, family, given, ...n } of await endNotesOf(db, p)) {
    const text = noteText(docOf(new Uint8Array(state)));
    if (!isEmptyText(text)) notes.push({ ...n, text, by: personName({ family, given }) });
    await breathing.pause();
  }
  return { notes, attachments: await attachmentsToGive(db, p) };
}
