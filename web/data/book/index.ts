import { computed } from '@angular/core';
import { signalStore, withComputed } from '@ngrx/signals';
import type { Group } from '@core/book/document';
import { listed } from '@core/words/count';
import { waitingByItem } from '../columns';
import { veiledIn } from '../veil';
import { withHistory } from './history';
import { withSession } from './session';
import { withSheet } from './sheet';
import { withBookState } from './state';
import { withWrites } from './writes';

export type { CellWrite } from './writes';

/** The open book: its page, the sheet's columns from the worker, and the way in which a cell changes. */
export const BookStore = signalStore(
  { providedIn: 'root' },
  withBookState(),
  withComputed(({ page, rules, id, cells, items, hidden, waiting, revision }) => ({
    assessments: computed(() => new Map((page()?.assessments ?? []).map((a) => [a.id, a]))),
    people: computed(() => new Map((page()?.students ?? []).map((s) => [s.id, s]))),
    sections: computed(() => new Map((page()?.sections ?? []).map((s) => [s.id, s.title]))),
    /** The one assessment that is looked at without names; '' where the book is looked at by name. */
    veiled: computed(() => veiledIn(id())),
    /** The book, whether it is looked at by name or not. */
    plainId: computed(() => id().split('~')[0]!),
    /** How much work waits to be marked, by assessment: also where names are hidden. */
    waitingBy: computed(() => {
      revision();
      const columns = cells();
      return columns ? waitingByItem(columns, items(), hidden()) : new Map<string, number>();
    }),
    waitingInAll: computed(() => waiting() + [...hidden().values()].reduce((a, b) => a + b, 0)),
    /** The assessments in which names are hidden, in words: standings leave them out. '' none. */
    leftOut: computed(() => listed((page()?.assessments ?? []).flatMap((a) => (hidden().has(a.id) ? [a.title] : [])))),
    titles: computed(() => Object.fromEntries((page()?.assessments ?? []).map((a) => [a.id, a.title]))),
    categories: computed(() => (rules()?.tree.children ?? []).filter((c): c is Group => c.type === 'group')),
    mayScore: computed(() => ['teacher', 'co-teacher', 'marker'].includes(page()?.role ?? '') && !page()!.archived),
    mayManage: computed(() => (page()?.role === 'teacher' || page()?.role === 'co-teacher') && !page()!.archived),
  })),
  withSheet(),
  withSession(),
  withHistory(),
  withWrites(),
);

export type BookStore = InstanceType<typeof BookStore>;
