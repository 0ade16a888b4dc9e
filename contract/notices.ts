import { Type } from '@sinclair/typebox';
import { Id, Moment, Shape, Title, type Static } from './wire';

/** GET /my/notices: what a student was told about their books. */
export const Notices = Type.Array(
  Shape({ id: Id, book: Id, bookTitle: Title, at: Moment, text: Type.String(), seen: Type.Boolean() }),
);
export type Notices = Static<typeof Notices>;
