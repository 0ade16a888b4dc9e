import { Type } from '@sinclair/typebox';
import { Choice, fileProperties, Id, Maybe, Moment, Operation, Shape, Version, type Static } from '../wire';

/** Bytes as base64. A piece of what is typed is small; a paste may be some pages. */
const Bytes = (most: number) =>
  Type.String({ maxLength: most, pattern: '^(?:[A-Za-z0-9+/]{4})*(?:[A-Za-z0-9+/]{2}==|[A-Za-z0-9+/]{3}=)?$' });

/** GET /books/{book}/end-notes/{assessment}/{enrolment}/{work}: the whole note, as a Yjs update. Version 0: nothing yet. */
export const EndNote = Shape({ state: Type.String(), version: Version, by: Type.String(), at: Maybe(Moment) });
export type EndNote = Static<typeof EndNote>;

/**
 * POST to the same: what was typed, as a Yjs update. It may come again or in another order: what it says is said once.
 * `has`: the state vector of the page; the answer brings what it lacks.
 */
export const EndNoteWrite = Shape({ update: Bytes(700_000), has: Bytes(100_000) });
export type EndNoteWrite = Static<typeof EndNoteWrite>;
export const EndNoteMerged = Shape({ version: Version, lacks: Type.String() });
export type EndNoteMerged = Static<typeof EndNoteMerged>;

/** GET /books/{book}/assessments/{assessment}/end-notes: the words of each note that says something, at most 300 letters. */
export const EndNoteWords = Type.Array(Shape({ enrolment: Id, work: Id, words: Type.String({ maxLength: 300 }) }));
export type EndNoteWords = Static<typeof EndNoteWords>;

export const PHRASE_SCOPES = ['own', 'book', 'school'] as const;
export const PhraseScope = Choice(...PHRASE_SCOPES);
export type PhraseScope = Static<typeof PhraseScope>;

/** Words of feedback that are used again. "{given}" is filled in with the student's first name. */
export const Phrase = Shape({
  id: Id,
  scope: PhraseScope,
  words: Type.String(),
  version: Version,
  by: Type.String(),
  /** One may change it. */
  mine: Type.Boolean(),
  uses: Version,
});
export type Phrase = Static<typeof Phrase>;

/** GET /books/{book}/phrases: one's own, the book's and the school's, the most used first. */
export const Phrases = Type.Array(Phrase);
export type Phrases = Static<typeof Phrases>;

/** PUT /books/{book}/phrases/{id}. Version 0: a new one. No words: it is taken out. */
export const PhraseWrite = Shape({
  version: Version,
  scope: PhraseScope,
  words: Maybe(Type.String({ minLength: 1, maxLength: 1_000, pattern: '\\S' })),
});
export type PhraseWrite = Static<typeof PhraseWrite>;

/** GET /books/{book}/assessments/{assessment}/feedback-with?words=: whose end note or comments have these words. */
export const FeedbackWith = Shape({ enrolments: Type.Array(Id) });
export type FeedbackWith = Static<typeof FeedbackWith>;

/** POST /books/{book}/phrases/{id}/uses: it was put into a note, once for each operation. */
export const PhraseUse = Shape({ operation: Operation });

export const FEEDBACK_PURPOSES = ['voice', 'camera', 'given', 'staff'] as const;
export const FeedbackPurpose = Choice(...FEEDBACK_PURPOSES);
export type FeedbackPurpose = Static<typeof FeedbackPurpose>;

/** It is made while it is sent: nobody knows at first how long it will be. */
export const isRecording = (purpose: FeedbackPurpose): boolean => purpose === 'voice' || purpose === 'camera';

/** What a recording has at most. */
export const MOST_SECONDS = 600;
export const MOST_RECORDED_BYTES = 100_000_000;
/** How loud a recording is from its beginning to its end, each 0 to 100. */
const Waveform = Type.Array(Type.Integer({ minimum: 0, maximum: 100 }), { maxItems: 400 });

/** A file beside a piece of work: a recording, a file given back, or one of staff alone. */
export const FeedbackAttachment = Shape({
  /** Of a recording that is not ended `bytes` is what it may have at most; without `sha256` it goes on or broke off. */
  ...fileProperties,
  purpose: FeedbackPurpose,
  /** Given to everybody of the assessment, not to this one alone. */
  everybody: Type.Boolean(),
  seconds: Maybe(Type.Number()),
  waveform: Waveform,
  removed: Type.Boolean(),
  version: Version,
  by: Type.String(),
  mine: Type.Boolean(),
  at: Moment,
});
export type FeedbackAttachment = Static<typeof FeedbackAttachment>;

/** GET /books/{book}/feedback-attachments/{assessment}/{enrolment}/{work}: those of this work, then those for everybody. */
export const FeedbackAttachments = Type.Array(FeedbackAttachment);
export type FeedbackAttachments = Static<typeof FeedbackAttachments>;

/** POST to the same: a file is to come; its id is made by the page, so that it is begun once. */
export const FeedbackAttachmentWrite = Shape({
  id: Id,
  purpose: FeedbackPurpose,
  everybody: Type.Boolean(),
  name: Type.String({ minLength: 1, maxLength: 255, pattern: '\\S' }),
  /** Of a recording nobody knows how many: as many as it may have. */
  bytes: Type.Integer({ minimum: 1, maximum: 1_000_000_000_000 }),
});
export type FeedbackAttachmentWrite = Static<typeof FeedbackAttachmentWrite>;

/** POST …/{file}/end: a recording has these bytes and no more. Nobody measured it where it had broken off. */
export const RecordingEnd = Shape({
  bytes: Version,
  seconds: Maybe(Type.Number({ minimum: 0, maximum: MOST_SECONDS + 60 })),
  waveform: Waveform,
});
export type RecordingEnd = Static<typeof RecordingEnd>;

/** PUT …/{file}: it is taken off, or put back. */
export const FeedbackAttachmentChange = Shape({ version: Version, removed: Type.Boolean() });
export type FeedbackAttachmentChange = Static<typeof FeedbackAttachmentChange>;
