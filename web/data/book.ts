import { cellKey } from '@contract/cell-key';
import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withProps, withState } from '@ngrx/signals';
import type { CellChange, RulesPart } from '@core/book/change';
import type { Group } from '@core/book/document';
import type { BookPage } from '@contract/books';
import type { ChangesWrite, EntryState } from '@contract/scores';
import type { PutBackMade } from '@contract/history';
import { clock } from '../ui/text/dates';
import { titlesWithPoints, withPoints } from '../ui/text/locale';
import { openSheet, SHEET_WORKER } from '../worker/sheet-client';
import { FLAG, type CellColumns, type RowUpdate, type Standing, type WholeSheet } from '../worker/protocol';
import { Api, newOperation, messageOf } from './api';
import { draftsIn, isNewer, looksTheSame } from './columns';
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
  /** Grows with every loading of the whole sheet. */
  loaded: number;
  /** Scores, over all cells, that are drafts. */
  drafts: number;
  problem: string;
  /** When the server last kept something made here, and how often it has. */
  keptAt: string;
  keeps: number;
  /** Shown as if the term ended now. */
  closing: boolean;
  /** The journal's number that the sheet was loaded at. */
  seq: number;
  /** The line of the journal that the sheet is shown at; null: as it is now. */
  stood: number | null;
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
  loaded: 0,
  drafts: 0,
  problem: '',
  keptAt: '',
  keeps: 0,
  closing: false,
  seq: 0,
  stood: null,
};

/** A cell to be changed, with what was typed. */
export interface CellWrite {
  student: string;
  item: string;
  change: CellChange;
  typed: string;
}

/** The open book: its page, the sheet's columns from the worker, and the way in which a cell changes. */
export const BookStore = signalStore(
  { providedIn: 'root' },
  withState(EMPTY),
  withProps(() => ({ api: inject(Api), outbox: inject(Outbox), worker: inject(SHEET_WORKER) })),
  withComputed(({ page, rules, students, items }) => ({
    assessments: computed(() => new Map((page()?.assessments ?? []).map((a) => [a.id, a]))),
    people: computed(() => new Map((page()?.students ?? []).map((s) => [s.id, s]))),
    sections: computed(() => new Map((page()?.sections ?? []).map((s) => [s.id, s.title]))),
    titles: computed(() => Object.fromEntries((page()?.assessments ?? []).map((a) => [a.id, a.title]))),
    categories: computed(() => (rules()?.tree.children ?? []).filter((c): c is Group => c.type === 'group')),
    mayScore: computed(() => ['teacher', 'co-teacher', 'marker'].includes(page()?.role ?? '') && !page()!.archived),
    mayManage: computed(() => (page()?.role === 'teacher' || page()?.role === 'co-teacher') && !page()!.archived),
    studentIndex: computed(() => new Map(students().map((s, i) => [s, i]))),
    itemIndex: computed(() => new Map(items().map((item, i) => [item, i]))),
  })),
  withMethods((store) => {
    let opening = 0;
    let latest: Promise<void> = Promise.resolve();
    let owner = '';
    /** How often each student's row has changed; a change of all of them is a new beginning. */
    let stamps = new Float64Array();
    let epoch = 0;
    /** Undo and redo go one after the other, whatever is pressed. */
    let steps: Promise<unknown> = Promise.resolve();
    /** Ends when the last change made here is in the columns. */
    let shown: Promise<unknown> = Promise.resolve();
    const touchAll = (students: number): void => void (stamps = new Float64Array(students).fill(++epoch * 1e9));
    const at = (s: number, i: number): number => s * store.items().length + i;
    const atCell = (student: string, item: string): number =>
      at(store.studentIndex().get(student) ?? NaN, store.itemIndex().get(item) ?? NaN);

    /** Puts students' cells and standings in place. */
    function place(updates: RowUpdate[]): void {
      const cells = store.cells();
      if (!cells || updates.length === 0) return;
      const width = store.items().length;
      const standings = [...store.standings()];
      let drafts = store.drafts();
      let seen = false;
      for (const update of updates) {
        const s = store.studentIndex().get(update.student);
        if (s === undefined) continue;
        const from = s * width;
        if (looksTheSame(cells, update, from, standings[s])) {
          cells.version.set(update.cells.version, from);
          continue;
        }
        seen = true;
        drafts -= draftsIn(cells, from, from + width);
        for (const key of Object.keys(cells) as (keyof CellColumns)[]) cells[key].set(update.cells[key] as never, from);
        drafts += draftsIn(cells, from, from + width);
        standings[s] = update.standing;
        stamps[s]!++;
      }
      // What is kept just as it was shown draws nothing: the next key does not wait for it.
      if (seen) patchState(store, { standings, drafts, revision: store.revision() + 1 });
    }

    function placeWhole(whole: WholeSheet, more: Partial<BookState> = {}): void {
      touchAll(store.students().length);
      patchState(store, {
        ...more,
        cells: whole.cells,
        standings: whole.standings,
        drafts: draftsIn(whole.cells, 0, whole.cells.state.length),
        revision: store.revision() + 1,
      });
    }

    /** Where another is begun meanwhile, this one ends when that is there: what was asked for is in it. */
    async function open(id: string, person: string): Promise<void> {
      for (let mine = (latest = openOnce(id, person)); ; mine = latest) {
        await mine;
        if (mine === latest) return;
      }
    }

    async function openOnce(id: string, person: string): Promise<void> {
      const turn = ++opening;
      owner = person;
      if (store.id() !== id) patchState(store, { ...EMPTY, id });
      try {
        const sheet = openSheet(store.worker(), id);
        const page = await store.api.get<BookPage>(`/books/${encodeURIComponent(id)}`);
        if (turn !== opening) return void sheet.catch(() => undefined);
        patchState(store, { page, problem: '' });
        titlesWithPoints.set(withPoints(page.assessments.map((a) => a.title)));
        const opened = await sheet;
        if (turn !== opening) return;
        touchAll(opened.students.length);
        const { seq, students, items, cells, rules } = opened;
        patchState(store, {
          ...{ seq, students, items, cells, rules },
          drafts: draftsIn(cells, 0, cells.state.length),
          standings: [],
          closing: false,
          stood: null,
          revision: store.revision() + 1,
          loaded: store.loaded() + 1,
        });
        await workOutStandings(turn);
        await openOutbox(id, person, turn);
      } catch (error) {
        if (turn === opening) patchState(store, { problem: messageOf(error) });
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
      const left = await store.outbox.open(person, id, (book, states, more) => {
        if (book !== store.id()) return;
        patchState(store, { keptAt: clock(), keeps: store.keeps() + 1 });
        // With more of a cell still waiting, what is shown is newer than what was just kept.
        void settle(states.filter((s) => !more(s)));
      });
      for (const w of left)
        if (turn === opening)
          await store
            .worker()
            .change(w.cells)
            .then(place, () => undefined);
    }

    async function settle(states: EntryState[]): Promise<void> {
      // The book as it stood is not changed by what is kept now; coming back loads that anew.
      if (store.stood() !== null) return;
      const known = states.filter((s) => !Number.isNaN(atCell(s.enrolment, s.assessment)));
      if (known.length === 0) return;
      const cells = known.map((s) => ({
        student: s.enrolment,
        item: s.assessment,
        content: s.entry,
        version: s.version,
        releaseState: s.releaseState,
      }));
      place(await store.worker().settle(cells));
    }

    /** The open book once more, as the server has it now. */
    const reload = (): Promise<void> => open(store.id(), owner);

    /** Makes changes that are one: shown and worked out at once, kept as soon as the server answers. */
    async function changeAll(kind: ChangesWrite['kind'], writes: CellWrite[]): Promise<void> {
      if (writes.length === 0) return;
      const put = store.outbox.put({
        operation: newOperation(),
        book: store.id(),
        kind,
        cells: writes.map((w) => ({ ...w, version: store.cells()?.version[atCell(w.student, w.item)] ?? 0 })),
      });
      shown = store.worker().change(writes).then(place);
      await shown;
      await put;
    }

    return {
      open,
      reload,
      settle,
      /** Once all that was typed is in the columns: what one types at next may follow within a millisecond. */
      shown: (): Promise<unknown> => shown.catch(() => undefined),
      changeAll,
      change: (student: string, item: string, change: CellChange, typed: string): Promise<void> =>
        changeAll('change', [{ student, item, change, typed }]),
      /** What others changed: taken over where nothing of one's own waits for the cell. */
      async takeOver(states: EntryState[]): Promise<EntryState[]> {
        // One's own undo may be told of here before its answer is in place; then it is no news.
        await steps.catch(() => undefined);
        const cells = store.stood() === null ? store.cells() : null;
        const unkept = store.outbox.unkept();
        const news = states.filter(
          (s) =>
            cells !== null &&
            !unkept.has(cellKey(s.enrolment, s.assessment)) &&
            isNewer(cells, atCell(s.enrolment, s.assessment), s),
        );
        await settle(news);
        return news;
      },
      /** Undo or redo of one's own last change, whatever was reloaded since: the journal knows it. */
      step(kind: 'undo' | 'redo'): Promise<PutBackMade> {
        const next = steps
          .catch(() => undefined)
          .then(async () => {
            await store.outbox.idle();
            const made = await store.api.send<PutBackMade>('POST', `/books/${store.id()}/${kind}`, {
              operation: newOperation(),
            });
            patchState(store, { keptAt: clock(), keeps: store.keeps() + 1 });
            if (made.book) await reload();
            else await settle(made.cells);
            return made;
          });
        steps = next;
        return next;
      },
      /** After a clash: what the other person kept takes the place of one's own. */
      async takeTheirs(student: string, item: string): Promise<void> {
        const trouble = store.outbox.troubles().get(cellKey(student, item));
        await store.outbox.drop(student, item);
        if (trouble?.kind === 'clash') await settle([trouble.theirs]);
        else await reload();
      },
      /** The whole sheet as if the term ended now, or as it is. */
      async showClosing(on: boolean): Promise<void> {
        placeWhole(await store.worker().atClosing(on), { closing: on });
      },
      /** The sheet as it stood after a line of the journal: to be looked at, not changed. Null: as it is now. */
      async showStood(at: number | null): Promise<void> {
        if (at === null) return reload();
        const turn = ++opening;
        try {
          const { seq, students, items, cells, rules } = await store.worker().openAsOf(store.id(), String(at));
          const { standings, dropped } = await store.worker().standings();
          if (turn !== opening) return;
          dropped.forEach((d, i) => (cells.flags[i]! |= d ? FLAG.dropped : 0));
          touchAll(students.length);
          patchState(store, {
            ...{ students, items, cells, rules, standings, stood: seq, closing: false },
            revision: store.revision() + 1,
            loaded: store.loaded() + 1,
          });
        } catch (error) {
          if (turn === opening) patchState(store, { problem: messageOf(error) });
        }
      },
      /** Another number, another content of the student's row. */
      stampOf: (s: number): number => stamps[s] ?? 0,
      at,
      atCell,
      /** The version of a cell that is on the page. */
      versionAt: (student: string, item: string): number => store.cells()?.version[atCell(student, item)] ?? 0,
    };
  }),
);

export type BookStore = InstanceType<typeof BookStore>;
