import { Type } from '@sinclair/typebox';
import { FeedbackPurpose } from '@contract/work/feedback';
import { Id, Shape, Version } from '@contract/wire';
import type { JournalKindDefinition } from '../books';

const NOT = 'Feedback is not put back from the journal: it stands with its work as it was written last.';
const NOT_FILES = 'A file is not put back from the journal: in the marking room it is put back where it was taken off.';

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
  {
    kind: 'feedback-attachment',
    version: 1,
    /** A file beside a piece of work that came to rest, by the hash of its bytes; none: it was taken off. */
    format: Shape({
      ...{ file: Id, purpose: FeedbackPurpose, version: Version },
      sha256: Type.Optional(Type.String({ pattern: '^[0-9a-f]{64}$' })),
    }),
    topic: 'scores',
    live: 'quiet',
    managed: true,
    putBack: NOT_FILES,
    madeNew: NOT_FILES,
  },
];
