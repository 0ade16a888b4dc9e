import type { ItemState } from '../book/document';

/** Where one student stands with one assessment, as the tick rail shows it; the order of the rail. */
export const TICKS = ['released', 'draft', 'excused', 'toMark', 'missing', 'nothing'] as const;
export type Tick = (typeof TICKS)[number];
export type TickCounts = Record<Tick, number>;

/** 0 never released, 1 released as it is now, 2 changed since released. */
export type Out = 0 | 1 | 2;

export function tickOf(state: ItemState, out: Out): Tick {
  // What is not asked of somebody is as good as excused.
  if (state === 'excused' || state === 'left-out') return 'excused';
  if (state === 'pending') return 'toMark';
  if (state === 'scored' || state === 'set') return out === 1 ? 'released' : 'draft';
  if (state === 'missing') return 'missing';
  return 'nothing';
}

export const noTicks = (): TickCounts => ({ released: 0, draft: 0, excused: 0, toMark: 0, missing: 0, nothing: 0 });
