import type { EntryContent } from '../book/change';
import type { CellProposal } from './proposal';

/** What can be supposed of many students' entries on one item. Points with at most four decimals. */
export type CellSupposition =
  | { kind: 'raised'; points: number }
  | { kind: 'lowered'; points: number }
  | { kind: 'set'; points: number }
  | { kind: 'excused' }
  | { kind: 'on-time' };

const rounded = (n: number): number => Math.round(n * 10_000) / 10_000;

/**
 * The changes that a supposition makes, for those whom it concerns: raising and lowering those who have a score in points,
 * waiving the lateness of those whose work is in. A score never falls below 0.
 */
export function supposeCells(
  item: string,
  entries: readonly { student: string; content: EntryContent }[],
  what: CellSupposition,
): CellProposal[] {
  return entries.flatMap(({ student, content }): CellProposal[] => {
    const attempts = content.attempts ?? [];
    const last = attempts[attempts.length - 1];
    const wish = (change: CellProposal['change']): CellProposal[] => [{ student, item, change }];
    switch (what.kind) {
      case 'raised':
      case 'lowered': {
        const by = what.kind === 'raised' ? what.points : -what.points;
        const to = (score: number): number => rounded(Math.max(0, score + by));
        if (content.state === 'excused') return [];
        if (content.set !== undefined) return wish({ kind: 'set', points: to(content.set) });
        if (!attempts.some((a) => a.score !== undefined)) return [];
        // Each attempt, so that whichever counts is raised.
        const moved = attempts.map((a) => (a.score === undefined ? a : { ...a, score: to(a.score) }));
        return wish({ kind: 'put', entry: { ...content, attempts: moved } });
      }
      case 'set':
        return wish({ kind: 'set', points: what.points });
      case 'excused':
        return content.state === 'excused' ? [] : wish({ kind: 'state', state: 'excused' });
      case 'on-time':
        return last === undefined || attempts.every((a) => a.onTime)
          ? []
          : wish({ kind: 'put', entry: { ...content, attempts: attempts.map((a) => ({ ...a, onTime: true })) } });
    }
  });
}
