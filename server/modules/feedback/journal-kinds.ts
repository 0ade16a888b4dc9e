import { Type } from '@sinclair/typebox';
import { Id, Shape, Version } from '@contract/wire';
import type { JournalKindDefinition } from '../books';

const NOT = 'Feedback is not put back from the journal: it stands with its work as it was written last.';

export const feedbackKinds: JournalKindDefinition[] = [
  {
    kind: 'feedback',
    version: 1,
    /** A version of an end note that came to rest, by the hash of its text; none: it was emptied. */
    format: Shape({ work: Id, version: Version, sha256: Type.Optional(Type.String({ pattern: '^[0-9a-f]{64}$' })) }),
    topic: 'scores',
    live: 'quiet',
    managed: true,
    putBack: NOT,
    madeNew: NOT,
  },
];
