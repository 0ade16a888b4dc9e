import { Type } from '@sinclair/typebox';
import { MessageKind } from '@contract/work/threads';
import { Id, Shape } from '@contract/wire';
import type { JournalKindDefinition } from '../books';

export const threadKinds: JournalKindDefinition[] = [
  {
    kind: 'question',
    version: 1,
    format: Shape({ id: Id, kind: MessageKind, sha256: Type.String({ pattern: '^[0-9a-f]{64}$' }) }),
    topic: 'letters',
    live: 'beside',
    managed: true,
    putBack: 'What was asked or answered is not put back.',
    madeNew: 'What was asked or answered is not put back.',
  },
];
