import { Type } from '@sinclair/typebox';
import { Choice, Id, Maybe, Moment, Operation, Shape, Version, type Static } from './wire';

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

/** POST /books/{book}/phrases/{id}/uses: it was put into a note, once for each operation. */
export const PhraseUse = Shape({ operation: Operation });
