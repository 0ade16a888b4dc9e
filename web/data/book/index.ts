import { computed } from '@angular/core';
import { signalStore, withComputed } from '@ngrx/signals';
import type { Group } from '@core/book/document';
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
  withComputed(({ page, rules }) => ({
    assessments: computed(() => new Map((page()?.assessments ?? []).map((a) => [a.id, a]))),
    people: computed(() => new Map((page()?.students ?? []).map((s) => [s.id, s]))),
    sections: computed(() => new Map((page()?.sections ?? []).map((s) => [s.id, s.title]))),
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
