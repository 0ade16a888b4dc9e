import { CELL_FORMAT } from '../scores';
import type { JournalKindDefinition } from '../books';

const ELSEWHERE = 'A release is withdrawn, and a withdrawal released again, on the Release page.';
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
];
