export { type AssessmentFeedback, feedbackOf } from './feedback-of';
export { restingJob } from './feedback-rests';
export { feedbackKinds } from './journal-kinds';
export { deleteBrokenFeedbackAttachments, moveFeedback, nameFeedbackAttachment } from './sql/feedback-attachments';
