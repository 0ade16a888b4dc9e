import type { CellChange } from '@core/book/change';
import type { DemoAssessment } from './data/demo-book';
import type { DemoStudent } from './data/people';
import { type Random } from './random';

/** What a teacher enters for one student on one assessment, in turn; empty: nothing came. */
export interface DemoCell {
  changes: CellChange[];
  /** Left out of the release, as still unmarked. */
  waits: boolean;
  /** When work came in, where any did. */
  cameAt: string | null;
}

const round = (points: number): number => Math.round(points * 2) / 2;
/** A local time of autumn 2026 in Dublin as a moment; the clocks go back on 25 October. */
export const dublin = (local: string): string =>
  new Date(Date.parse(`2026-${local}:00${local < '10-25' ? '+01:00' : 'Z'}`)).toISOString();
const at = (local: string, hours: number): string =>
  new Date(Date.parse(dublin(local)) + hours * 3_600_000).toISOString();

/** Draws one cell. The spread is that of a real term: most on time, some late, a few missing, excused or unmarked. */
export function demoCell(random: Random, student: DemoStudent, a: DemoAssessment, lateCounts: boolean): DemoCell {
  const reached = Math.min(1, Math.max(0.25, student.ability + random.normal() * 0.09));
  const score: CellChange = { kind: 'score', points: round(reached * a.points) };
  const luck = random.next();
  const waits = { changes: [] as CellChange[], waits: true, cameAt: null };
  if (a.phase === 'open') {
    if (luck < 0.08) {
      const cameAt = at('11-23T09:00', random.next() * 20);
      return { ...waits, cameAt, changes: [{ kind: 'received', at: cameAt }] };
    }
    if (luck < 0.12) return { ...waits, changes: [{ kind: 'due', dueAt: at(a.due!, 7 * 24) }] };
    return waits;
  }
  if (luck < 0.03) return { changes: [{ kind: 'state', state: 'excused' }], waits: false, cameAt: null };
  if (luck < 0.07) return { changes: [], waits: false, cameAt: null };
  const late = lateCounts && luck < 0.17;
  const cameAt = at(a.due!, late ? 3 + random.next() * 60 : -2 - random.next() * 30);
  if (a.phase === 'marking' && random.chance(0.42))
    return { ...waits, cameAt, changes: [{ kind: 'received', at: cameAt }] };
  return { changes: late ? [{ kind: 'received', at: cameAt }, score] : [score], waits: false, cameAt };
}
