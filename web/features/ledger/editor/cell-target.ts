import type { EntryContent } from '@core/book/change';
import type { BookStore } from '../../../data/book';
import { FLAG, STATES } from '../../../worker/protocol';
import type { CellTarget } from './cell-editor';

/** What the columns tell of a cell: all that a figure typed over it is compared with. */
function roughContent(store: BookStore, s: number, item: string): EntryContent {
  const cells = store.cells()!;
  const at = store.at(s, store.itemIndex().get(item)!);
  const state = STATES[cells.state[at]!]!;
  const byHand = state === 'missing' && (cells.flags[at]! & FLAG.byHand) !== 0;
  if (state === 'excused' || state === 'awaiting' || byHand) return { state };
  const marked = cells.marked[at]! / 10_000;
  if (Number.isNaN(marked)) return {};
  return state === 'set' ? { set: marked } : { attempts: [{ score: marked }] };
}

/** A cell as the line over it needs it, from what is on the page. */
export function targetOf(
  store: BookStore,
  place: { student: string; index: number; item: string },
  unreadableText: string | null,
): CellTarget {
  const { points, marks, due } = store.assessments().get(place.item)!;
  return {
    student: place.student,
    item: place.item,
    points,
    marks,
    due,
    unreadableText,
    content: roughContent(store, place.index, place.item),
  };
}
