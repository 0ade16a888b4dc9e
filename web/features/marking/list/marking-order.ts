import type { ArrivalRow } from '../../../data/work/arrival-rows';

/** In which order students are gone through. */
export const ORDERS = [
  { value: 'name', text: 'by name' },
  { value: 'waiting', text: 'those that wait first' },
  { value: 'longest', text: 'longest waiting first' },
  { value: 'arrival', text: 'by time in' },
  { value: 'shuffled', text: 'shuffled' },
] as const;
export type Order = (typeof ORDERS)[number]['value'];

/** When what one came with last was handed in; Infinity: nothing. */
const cameAt = (r: ArrivalRow): number => {
  const last = r.submissions.findLast((s) => s.state === 'handed-in');
  return last?.handedInAt ? Date.parse(last.handedInAt) : Infinity;
};

const waits = (r: ArrivalRow): boolean => r.kind === 'to mark';

/** The same number for the same text, each time and everywhere (FNV-1a, 32 bit). */
export function hash(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  return h >>> 0;
}

/** Rows in an order; those equal in it stay by name. `seed`: of one assessment, so that its shuffle stays. */
export function ordered(rows: readonly ArrivalRow[], order: Order, seed: string): ArrivalRow[] {
  const key: Record<Order, (r: ArrivalRow) => number> = {
    name: () => 0,
    waiting: (r) => (waits(r) ? 0 : 1),
    longest: (r) => (waits(r) ? cameAt(r) : Infinity),
    arrival: cameAt,
    shuffled: (r) => hash(`${seed} ${r.enrolment}`),
  };
  const of = key[order];
  return rows
    .map((row, i) => ({ row, i, at: of(row) }))
    .sort((a, b) => (a.at === b.at ? a.i - b.i : a.at - b.at))
    .map((x) => x.row);
}

/** The next that waits after somebody, in the order shown, from the top again at its end; null: nobody else does. */
export function nextWaiting(rows: readonly ArrivalRow[], after: string): ArrivalRow | null {
  const at = rows.findIndex((r) => r.enrolment === after);
  const round = [...rows.slice(at + 1), ...rows.slice(0, Math.max(0, at))];
  return round.find(waits) ?? null;
}

/** Of the assessments with work that waits the one that was due first: its work has waited longest. Null: none has any. */
export function firstWaiting<A extends { id: string; due: string | null }>(
  assessments: readonly A[],
  waiting: ReadonlyMap<string, number>,
): A | null {
  const [first] = assessments
    .filter((a) => (waiting.get(a.id) ?? 0) > 0)
    .sort((a, b) => (a.due ?? '9').localeCompare(b.due ?? '9'));
  return first ?? null;
}
