import { Type } from '@sinclair/typebox';
import { BookRole } from '@contract/people';
import { Id, Maybe, Shape } from '@contract/wire';
import { type JournalKindDefinition, NOT_PUT_BACK } from '../books';

const about = { version: 1, topic: 'people', live: 'document', ...NOT_PUT_BACK } as const;

export const peopleKinds: JournalKindDefinition[] = [
  // The section's id and its title.
  { ...about, kind: 'section', format: Type.String({ 'x-words': 'book' }) },
  // A section's variant of the rules: for its students who have none of their own.
  {
    ...about,
    kind: 'section-variant',
    format: Shape({ section: Id, variant: Maybe(Type.String({ 'x-words': 'book' })) }),
  },
  // The login is the person's id for signing in, not their name.
  { ...about, kind: 'staff', format: Shape({ login: Type.String({ 'x-words': 'login' }), role: Maybe(BookRole) }) },
];
