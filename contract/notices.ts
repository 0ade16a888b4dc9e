import { Type } from '@sinclair/typebox';
import { Choice, Id, Maybe, Moment, Shape, Title, Version, type Static } from './wire';

/** Told by the application, written by somebody of the staff, asked, answered; work that came in. */
export const NoticeKind = Choice('told', 'letter', 'question', 'answer', 'arrival');
export type NoticeKind = Static<typeof NoticeKind>;

/** GET /my/notices: what a person was told about their books, the latest first. */
export const Notices = Type.Array(
  Shape({
    id: Id,
    book: Id,
    bookTitle: Title,
    timeZone: Type.String(),
    at: Moment,
    kind: NoticeKind,
    text: Type.String(),
    /** Whose words they are; null: the application's. */
    by: Maybe(Type.String()),
    /** Where it leads within the application; '' nowhere. */
    path: Type.String(),
    seen: Type.Boolean(),
  }),
);
export type Notices = Static<typeof Notices>;

/** GET /my/notices/unread: how many were not read yet. */
export const Unread = Shape({ unread: Version });
export type Unread = Static<typeof Unread>;

/** PUT /my/notices/seen: these were read. */
export const SeenWrite = Shape({ notices: Type.Array(Id, { minItems: 1, maxItems: 100, uniqueItems: true }) });
export type SeenWrite = Static<typeof SeenWrite>;
