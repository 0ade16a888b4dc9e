import { cellKey } from '@contract/wire/cell-key';
import type { EntryContent } from '@core/book/change';
import type { BookStore } from '../../../data/book';
import { FLAG, STATES } from '../../../worker/protocol';

/** Where to go after an entry. */
export type Step = 'stay' | 'down' | 'up' | 'right' | 'left';

export interface CellTarget {
  student: string;
  /** '' on the standing, where a final grade is typed. */
  item: string;
  points: number;
  marks: string[];
  due: string | null;
  content: EntryContent;
  /** The versions that were seen when the line was opened, of this cell and of those selected with it. */
  seen: ReadonlyMap<string, number>;
  /** What was typed before and could not be read. */
  unreadableText: string | null;
}

/** Where the line waits until it is opened. */
export const NO_TARGET: CellTarget = {
  student: '',
  item: '',
  points: 0,
  marks: [],
  due: null,
  content: {},
  seen: new Map(),
  unreadableText: null,
};

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

/** The versions of cells that are on the page. */
export const versionsOf = (
  store: BookStore,
  cells: readonly { student: string; item: string }[],
): ReadonlyMap<string, number> =>
  new Map(cells.map((c) => [cellKey(c.student, c.item), store.versionAt(c.student, c.item)]));

/** A cell as the line over it needs it, from what is on the page. */
export function targetOf(
  store: BookStore,
  place: { student: string; index: number; item: string },
  unreadableText: string | null,
  selected: readonly { student: string; item: string }[],
): CellTarget {
  const { points, marks, due } = store.assessments().get(place.item)!;
  return {
    student: place.student,
    item: place.item,
    points,
    marks,
    due,
    unreadableText,
    seen: versionsOf(store, [place, ...selected]),
    content: roughContent(store, place.index, place.item),
  };
}

/** The standing of one student as the line over it needs it. */
export const standingTarget = (student: string): CellTarget => ({ ...NO_TARGET, student });
