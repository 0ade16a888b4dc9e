import { Type } from '@sinclair/typebox';
import { Choice, Id, Maybe, Moment, Operation, Shape, Title, Version, type Static } from './wire';

export const MailKind = Choice('told', 'letter', 'receipt', 'gathered', 'link');
export type MailKind = Static<typeof MailKind>;

/** GET /undelivered: letters that did not reach anybody, the latest first, and how many still wait to be sent. */
export const Undelivered = Shape({
  waiting: Version,
  inAll: Version,
  mails: Type.Array(
    Shape({
      id: Id,
      to: Type.String(),
      address: Type.String(),
      kind: MailKind,
      subject: Type.String(),
      madeAt: Moment,
      tries: Version,
      fault: Type.String(),
    }),
  ),
});
export type Undelivered = Static<typeof Undelivered>;

/** POST /undelivered/send: once more, with all their tries. */
export const SendAgainWrite = Shape({ mails: Type.Array(Id, { minItems: 1, maxItems: 500, uniqueItems: true }) });
export type SendAgainWrite = Static<typeof SendAgainWrite>;

/** POST /books/{book}/letters: words to students of the book. `assessment`: whose due dates and title they may name. */
export const LetterWrite = Shape({
  operation: Operation,
  assessment: Type.Optional(Id),
  enrolments: Type.Array(Id, { minItems: 1, maxItems: 2_000, uniqueItems: true }),
  subject: Title,
  body: Type.String({ minLength: 1, maxLength: 5_000, pattern: '\\S' }),
});
export type LetterWrite = Static<typeof LetterWrite>;
export const LetterWritten = Shape({ letter: Id, written: Version });
export type LetterWritten = Static<typeof LetterWritten>;

/** GET /books/{book}/letters: what was written, the latest first, and what could not be delivered of it. */
export const Letters = Type.Array(
  Shape({
    id: Id,
    assessment: Maybe(Id),
    at: Moment,
    by: Type.String(),
    subject: Type.String(),
    body: Type.String(),
    copies: Type.Array(
      Shape({ enrolment: Id, state: Choice('waiting', 'sent', 'refused', 'given-up'), fault: Type.String() }),
    ),
  }),
);
export type Letters = Static<typeof Letters>;
