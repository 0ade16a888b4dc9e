import { Type } from '@sinclair/typebox';
import { Id, Shape, Version } from '@contract/wire';
import type { JournalKindDefinition } from '../books';

const NOT = 'Marks on the work are not put back from the journal: they stand with the work as they were made last.';

export const workMarkKinds: JournalKindDefinition[] = [
  {
    kind: 'marks',
    version: 1,
    /** A version of the marks on a piece of work that came to rest: how many, and the hash over them. */
    format: Shape({
      ...{ submission: Id, version: Version, marks: Type.Optional(Version) },
      sha256: Type.Optional(Type.String({ pattern: '^[0-9a-f]{64}$' })),
    }),
    topic: 'scores',
    live: 'quiet',
    managed: true,
    putBack: NOT,
    madeNew: NOT,
  },
];
