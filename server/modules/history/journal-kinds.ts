import { Shape, Version } from '@contract/wire';
import { NOT_PUT_BACK, type JournalKindDefinition } from '../books';

export const historyKinds: JournalKindDefinition[] = [
  {
    ...NOT_PUT_BACK,
    version: 1,
    kind: 'calculation',
    // Which calculation works the book out from there, and to how many students it gives another figure.
    format: Shape({ version: Version, students: Version }),
    topic: 'rules',
    live: 'document',
  },
];
