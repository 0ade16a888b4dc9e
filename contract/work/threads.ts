import { Type } from '@sinclair/typebox';
import { BookAddress, Choice, Id, Maybe, Moment, Operation, Shape, Title, Version, type Static } from '../wire';

/**
 * Asked by the student, answered by the staff, or set aside by them: it needs no answer. A draft is what a marker would
 * answer: staff alone read it, until a teacher answers.
 */
export const MessageKind = Choice('question', 'answer', 'set-aside', 'draft');
export type MessageKind = Static<typeof MessageKind>;

export const ThreadMessage = Shape({
  id: Id,
  kind: MessageKind,
  by: Type.String(),
  /** Of the one who reads it. */
  own: Type.Boolean(),
  at: Moment,
  text: Type.String(),
});
export type ThreadMessage = Static<typeof ThreadMessage>;

/** Questions of one student about one assessment and their answers, the first at the top. */
export const Thread = Shape({
  messages: Type.Array(ThreadMessage),
  /** The last question waits for an answer, since then; null: none does. */
  unansweredSince: Maybe(Moment),
});
export type Thread = Static<typeof Thread>;

/** POST …/thread and …/draft: a question, its answer, or the draft of one. `seen`: how many messages stood there. */
export const MessageWrite = Shape({
  operation: Operation,
  seen: Version,
  text: Type.String({ minLength: 1, maxLength: 5_000, pattern: '\\S' }),
});
export type MessageWrite = Static<typeof MessageWrite>;

/** POST …/thread/set-aside: the question needs no answer. */
export const SetAsideWrite = Shape({ operation: Operation, seen: Version });
export type SetAsideWrite = Static<typeof SetAsideWrite>;

/** GET …/threads: of each student who asked about an assessment, how much was said, and whether a question waits. */
export const ThreadList = Type.Array(Shape({ enrolment: Id, messages: Version, unanswered: Type.Boolean() }));
export type ThreadList = Static<typeof ThreadList>;

/** GET /my/threads: one's own, by assessment. */
export const OwnThreads = Type.Array(Shape({ book: Id, assessment: Id, unanswered: Type.Boolean() }));
export type OwnThreads = Static<typeof OwnThreads>;

/** A question that waits for its answer. */
export const UnansweredQuestion = Shape({
  book: BookAddress,
  bookTitle: Title,
  assessment: Id,
  title: Title,
  enrolment: Id,
  whose: Type.String(),
  since: Moment,
});
export type UnansweredQuestion = Static<typeof UnansweredQuestion>;
