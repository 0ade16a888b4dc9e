import { Type } from '@sinclair/typebox';
import { ReleaseParts } from '@contract/slips';
import { Id, Maybe, Moment, Shape, Version } from '@contract/wire';
import { CELL_FORMAT } from '../scores';
import type { JournalKindDefinition } from '../books';

const ELSEWHERE = 'A release is withdrawn, and a withdrawal released again, on the Release page.';
const Hash = Type.String({ pattern: '^[0-9a-f]{64}$' });
const released = {
  version: 1,
  format: CELL_FORMAT,
  topic: 'releases',
  live: 'cell',
  managed: true,
  putBack: ELSEWHERE,
  madeNew: ELSEWHERE,
} as const;

export const releaseKinds: JournalKindDefinition[] = [
  { ...released, kind: 'release' },
  { ...released, kind: 'withdraw' },
  {
    ...released,
    kind: 'feedback-release',
    live: 'beside',
    /** What of rubric and feedback students see, by the hashes of their texts; none: nothing of it. */
    format: Shape({ rubric: Type.Optional(Hash), feedback: Type.Optional(Hash) }),
  },
  {
    ...released,
    kind: 'planned-release',
    live: 'beside',
    /** What is to be released when; none: it was called off. */
    format: Shape({ id: Id, at: Maybe(Moment), parts: ReleaseParts, students: Maybe(Version) }),
  },
];
