import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withProps, withState } from '@ngrx/signals';
import type { CellChange, RulesPart } from '@core/book/change';
import type { Group } from '@core/book/document';
import type { BookPage } from '@contract/books';
import { clock } from '../ui/dates';
import { openSheet, SHEET_WORKER } from '../workers/sheet-client';
import { tickOf } from '@core/statistics/ticks';
import { FLAG, STATES, type CellColumns, type RowUpdate, type Standing } from '../workers/protocol';
import { Api, newOperation, saysOf } from './api';
import { Outbox } from './outbox';

interface BookState {
  id: string;
  page: BookPage | null;
  students: string[];
  items: string[];
  cells: CellColumns | null;
  standings: Standing[];
  rules: RulesPart | null;
  /** Grows with every change of a cell or standing: typed arrays change in place. */
  revision: number;
  /** Scores, over all cells, that are drafts. */
  drafts: number;
  problem: string;
  keptAt: string;
}

const EMPTY: BookState = {
  id: '',
  page: null,
  students: [],
  items: [],
  cells: null,
  standings: [],
  rules: null,
  revision: 0,
  drafts: 0,
  problem: '',
  keptAt: '',
};

/** The open book: its page, the sheet's columns from the worker, and the way in which a cell changes. */
export const BookStore = signalStore(
  { providedIn: 'root' },
  withState(EMPTY),
  withProps(() => ({ api: inject(Api), outbox: inject(Outbox), worker: inject(SHEET_WORKER) })),
  withComputed(({ page, rules }) => ({
    assessments: computed(() => new Map((page()?.assessments ?? []).map((a) => [a.id, a]))),
    people: computed(() => new Map((page()?.students ?? []).map((s) => [s.id, s]))),
    sections: computed(() => new Map((page()?.sections ?? []).map((s) => [s.id, s.title]))),
    titles: computed(() => Object.fromEntries((page()?.assessments ?? []).map((a) => [a.id, a.title]))),
    categories: computed(() => (rules()?.tree.children ?? []).filter((c): c is Group => c.type === 'group')),
    mayScore: computed(() => page() !== null && page()!.role !== 'administrator'),
    mayManage: computed(() => page()?.role === 'teacher' || page()?.role === 'co-teacher'),
  })),
  withMethods((store) => {
    const indexOf = (student: string): number => store.students().indexOf(student);
    let opening = 0;
    let owner = '';
    /** How often each student's row has changed; a change of all of them is a new beginning. */
    let stamps = new Float64Array();
    let epoch = 0;
    const touchAll = (students: number): void => void (stamps = new Float64Array(students).fill(++epoch * 1e9));

    /** Puts one student's cells and standing in place. */
    function place(update: RowUpdate): void {
      const cells = store.cells();
      const s = indexOf(update.student);
      if (!cells || s < 0) return;
      const at = s * store.items().length;
      const width = store.items().length;
      const before = draftsIn(cells, at, at + width);
      for (const key of Object.keys(cells) as (keyof CellColumns)[]) cells[key].set(update.cells[key] as never, at);
      const standings = [...store.standings()];
      standings[s] = update.standing;
      stamps[s]!++;
      const drafts = store.drafts() + draftsIn(cells, at, at + width) - before;
      patchState(store, { standings, drafts, revision: store.revision() + 1 });
    }

    async function open(id: string, person: string): Promise<void> {
      const turn = ++opening;
      owner = person;
      if (store.id() !== id) patchState(store, { ...EMPTY, id });
      try {
        const sheet = openSheet(store.worker(), id);
        const page = await store.api.get<BookPage>(`/books/${encodeURIComponent(id)}`);
        if (turn !== opening) return void sheet.catch(() => undefined);
        patchState(store, { page, problem: '' });
        const opened = await sheet;
        if (turn !== opening) return;
        touchAll(opened.students.length);
        patchState(store, {
          drafts: draftsIn(opened.cells, 0, opened.cells.state.length),
          students: opened.students,
          items: opened.items,
          cells: opened.cells,
          rules: opened.rules,
          standings: [],
          revision: store.revision() + 1,
        });
        await workOutStandings(turn);
        await openOutbox(id, person, turn);
      } catch (error) {
        if (turn === opening) patchState(store, { problem: saysOf(error) });
      }
    }

    async function workOutStandings(turn: number): Promise<void> {
      const { standings, dropped } = await store.worker().standings();
      const cells = store.cells();
      if (turn !== opening || !cells) return;
      touchAll(store.students().length);
      dropped.forEach((d, i) => (cells.flags[i] = (cells.flags[i]! & ~FLAG.dropped) | (d ? FLAG.dropped : 0)));
      patchState(store, { standings, revision: store.revision() + 1 });
    }

    /** Changes that a reload or a dead line left behind are shown again, as not kept yet, and sent. */
    async function openOutbox(id: string, person: string, turn: number): Promise<void> {
      const left = await store.outbox.open(person, id, (state, waiting, more) => {
        if (waiting.book === store.id()) void settle(state.enrolment, state.assessment, state, more);
      });
      for (const w of left)
        if (turn === opening)
          await store
            .worker()
            .change(w.student, w.item, w.change)
            .then(place, () => undefined);
    }

    async function settle(
      student: string,
      item: string,
      state: { entry: Parameters<ReturnType<typeof store.worker>['settle']>[2]; version: number; out: 0 | 1 | 2 },
      more: boolean,
    ): Promise<void> {
      patchState(store, { keptAt: clock() });
      // With more of this cell still waiting, what is shown is newer than what was just kept.
      if (more) return;
      place(await store.worker().settle(student, item, state.entry, state.version, state.out));
    }

    /** The open book once more, as the server has it now. */
    const reload = (): Promise<void> => open(store.id(), owner);

    return {
      open,
      reload,
      settle,
      place,

      /** Makes a change: shown and worked out at once, kept as soon as the server answers. */
      async change(student: string, item: string, change: CellChange, typed: string): Promise<void> {
        const at = indexOf(student) * store.items().length + store.items().indexOf(item);
        const version = store.cells()?.version[at] ?? 0;
        const put = store.outbox.put({
          operation: newOperation(),
          book: store.id(),
          student,
          item,
          version,
          change,
          typed,
        });
        place(await store.worker().change(student, item, change));
        await put;
      },

      /** After a clash: what the other person kept takes the place of one's own. */
      async takeTheirs(student: string, item: string): Promise<void> {
        const trouble = store.outbox.troubles().get(`${student} ${item}`);
        await store.outbox.drop(student, item);
        if (trouble?.kind === 'clash') await settle(student, item, trouble.theirs, false);
        else await reload();
      },

      /** Another number, another content of the student's row. */
      stampOf: (s: number): number => stamps[s] ?? 0,

      at(s: number, i: number): number {
        return s * store.items().length + i;
      },
    };
  }),
);

/** Scores that are drafts among the cells from one place to another. */
function draftsIn(cells: CellColumns, from: number, to: number): number {
  let drafts = 0;
  for (let i = from; i < to; i++) {
    const flags = cells.flags[i]!;
    const out = flags & FLAG.released ? 1 : flags & FLAG.changed ? 2 : 0;
    if (tickOf(STATES[cells.state[i]!]!, out) === 'draft') drafts++;
  }
  return drafts;
}
export type BookStore = InstanceType<typeof BookStore>;
