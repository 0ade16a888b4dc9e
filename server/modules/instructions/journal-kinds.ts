import { Type } from '@sinclair/typebox';
import { Id, Shape, Version } from '@contract/wire';
import type { JournalKindDefinition } from '../books';

const NOT = 'The words of an assessment are not put back from the journal: its page holds them as they are.';

export const instructionKinds: JournalKindDefinition[] = [
  {
    kind: 'instructions',
    version: 1,
    /** A version of the words, by their hash; or a file that was added or taken out. */
    format: Shape({
      version: Type.Optional(Version),
      sha256: Type.Optional(Type.String({ pattern: '^[0-9a-f]{64}$' })),
      file: Type.Optional(Id),
      worksheet: Type.Optional(Type.Boolean()),
      removed: Type.Optional(Type.Boolean()),
    }),
    topic: 'assessments',
    live: 'beside',
    managed: true,
    putBack: NOT,
    madeNew: NOT,
  },
];
