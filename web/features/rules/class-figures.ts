import type { BookStore } from '../../data/book';
import type { ClassFigures } from './draft';

type Store = Pick<InstanceType<typeof BookStore>, 'revision' | 'cells' | 'items' | 'students' | 'standings'>;

/** Points marked for an assessment of the open book, one for each student who has some. */
export function markedIn(store: Store, item: number): number[] {
  store.revision();
  const cells = store.cells();
  if (!cells) return [];
  const width = store.items().length;
  return store
    .students()
    .map((_, s) => cells.marked[s * width + item]! / 10_000)
    .filter((n) => !Number.isNaN(n));
}

/** The open book's class as it is. Who has no standing, or marks that are hidden, is not in it. */
export function classFigures(store: Store): ClassFigures {
  const standing = store.standings().filter((s) => s.percent !== null);
  return {
    marked: new Map(store.items().map((id, i) => [id, markedIn(store, i)])),
    percents: {
      rounded: standing.map((s) => Number(s.percent)),
      // A letter that is looked up by the exact figure begins no higher than it.
      exact: standing.map((s) => Math.floor(s.at * 10_000 + 1e-6) / 10_000),
    },
  };
}
