import type { LevelDraft } from '@contract/work/marking';
import { newOperation } from '../api';
import { markKeyOf, type PendingLevels, type PendingWrite } from './pending-writes';

/** The same levels over what stands there now; where nothing of it is another's, the sum takes a typed score's place. */
export function insisting(w: PendingWrite, levels: PendingLevels, draft: LevelDraft): PendingWrite {
  const now = new Map(draft.marks.map((m) => [m.criterion, m.version]));
  const marks = levels.marks.map((m) => ({ ...m, version: now.get(m.criterion) ?? 0 }));
  const isSame = marks.every((m, i) => m.version === levels.marks[i]!.version) && draft.rubric === levels.rubric;
  const next = { ...levels, rubric: draft.rubric, marks, ...(isSame ? { sum: 'follow' as const } : {}) };
  return { ...w, operation: newOperation(), levels: next };
}

/** Of what came back only one’s own marks are known from now on: another criterion may be somebody else’s, and unseen. */
export function noteLevels(w: PendingWrite, draft: LevelDraft, versions: Map<string, number>): void {
  for (const m of draft.marks)
    if (w.levels!.marks.some((own) => own.criterion === m.criterion))
      versions.set(markKeyOf(w.cells[0]!, draft.work, m.criterion), m.version);
}
