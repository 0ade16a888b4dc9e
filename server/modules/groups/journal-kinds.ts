import { Type } from '@sinclair/typebox';
import { Id, Shape } from '@contract/wire';
import { type JournalKindDefinition, NOT_PUT_BACK } from '../books';

export const groupKinds: JournalKindDefinition[] = [
  {
    kind: 'group',
    version: 1,
    format: Shape({ id: Type.Optional(Id), title: Type.String({ 'x-words': 'book' }), members: Type.Array(Id) }),
    topic: 'people',
    // Groups are no part of the book document: the sheet stays as it is.
    live: 'beside',
    ...NOT_PUT_BACK,
  },
];
