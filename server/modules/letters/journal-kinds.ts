import { Type } from '@sinclair/typebox';
import { Id, Shape } from '@contract/wire';
import type { JournalKindDefinition } from '../books';

export const letterKinds: JournalKindDefinition[] = [
  {
    kind: 'letter',
    version: 1,
    /** Of the words as they were before what differs was filled in. */
    format: Shape({ id: Id, sha256: Type.String({ pattern: '^[0-9a-f]{64}$' }) }),
    topic: 'letters',
    live: 'beside',
    managed: true,
    putBack: 'What was written to a student is not put back.',
    madeNew: 'What was written to a student is not put back.',
  },
];
