import { Type } from '@sinclair/typebox';
import { SubmissionState } from '@contract/work/submissions';
import { Id, Shape, Version } from '@contract/wire';
import type { JournalKindDefinition } from '../books';

export const submissionKinds: JournalKindDefinition[] = [
  {
    kind: 'submission',
    version: 1,
    format: Shape({
      id: Id,
      state: SubmissionState,
      attempt: Type.Optional(Version),
      receipt: Type.Optional(Type.String({ pattern: '^LT-[0-9A-Z]{3}-[0-9A-Z]{3}$' })),
      /** SHA-256 of each file, of the text and of the link. */
      content: Type.Optional(Type.Array(Type.String({ pattern: '^[0-9a-f]{64}$' }))),
    }),
    topic: 'submissions',
    live: 'beside',
    managed: true,
    putBack: 'What a student handed in or took back is not put back from the journal.',
    madeNew: 'What a student handed in is not put back from the journal.',
  },
];
