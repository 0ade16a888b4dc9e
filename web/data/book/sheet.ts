import { computed } from '@angular/core';
import { patchState, signalStoreFeature, withComputed, withMethods } from '@ngrx/signals';
import { cellKey } from '@contract/wire/cell-key';
import type { EntryState } from '@contract/scores';
import {
  FLAG,
  type CellColumns,
  type OpenedSheet,
  type RowUpdate,
  type Standing,
  type WholeSheet,
} from '../../worker/protocol';
import { unlessClosed } from '../../worker/sheet-session';
import { draftsIn, laterThan, looksTheSame, waitingIn } from '../columns';
import { BOOK, type BookState } from './state';

/** Every standing with the cells that are dropped, as the worker gives them. */
export interface Standings {
  standings: Standing[];
  dropped: Uint8Array;
}

/** The sheet in columns: what the worker answers and what the server keeps is put in its place. */
export const withSheet = () =>
  signalStoreFeature(
    BOOK,
    withComputed(({ students, items }) => ({
      studentIndex: computed(() => new Map(students().map((s, i) => [s, i]))),
      itemIndex: computed(() => new Map(items().map((item, i) => [item, i]))),
    })),
    withMethods((store) => {
      /** How often each student's row has changed; a change of all of them is a new beginning. */
      let stamps = new Float64Array();
      let epoch = 0;
      /** What was kept or told of while the sheet is being loaded: it may be newer than the sheet. Null: none is. */
      let heard: EntryState[] | null = null;
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
        let [drafts, waiting] = [store.drafts(), store.waiting()];
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
          waiting -= waitingIn(cells, from, from + width);
          for (const key of Object.keys(cells) as (keyof CellColumns)[])
            cells[key].set(update.cells[key] as never, from);
          drafts += draftsIn(cells, from, from + width);
          waiting += waitingIn(cells, from, from + width);
          standings[s] = update.standing;
          stamps[s]!++;
        }
        // What is kept just as it was shown draws nothing: the next key does not wait for it.
        if (seen) patchState(store, { standings, drafts, waiting, revision: store.revision() + 1 });
      }

      function placeWhole(whole: WholeSheet, more: Partial<BookState> = {}): void {
        touchAll(store.students().length);
        patchState(store, {
          ...more,
          cells: whole.cells,
          standings: whole.standings,
          drafts: draftsIn(whole.cells, 0, whole.cells.state.length),
          waiting: waitingIn(whole.cells, 0, whole.cells.state.length),
          revision: store.revision() + 1,
        });
      }

      /** A sheet that was just loaded takes the place of the one before, without its standings. */
      function placeOpened(
        { students, items, cells, rules, faults, hidden, recalculated }: OpenedSheet,
        more: Partial<BookState>,
      ): void {
        touchAll(students.length);
        patchState(store, {
          ...{ students, items, cells, rules, faults, hidden, recalculated },
          drafts: draftsIn(cells, 0, cells.state.length),
          waiting: waitingIn(cells, 0, cells.state.length),
          standings: [],
          closing: false,
          revision: store.revision() + 1,
          loaded: store.loaded() + 1,
          ...more,
        });
      }

      function placeStandings({ standings, dropped }: Standings): void {
        const cells = store.cells();
        if (!cells) return;
        touchAll(store.students().length);
        dropped.forEach((d, i) => (cells.flags[i] = (cells.flags[i]! & ~FLAG.dropped) | (d ? FLAG.dropped : 0)));
        patchState(store, { standings, revision: store.revision() + 1 });
      }

      async function settle(states: EntryState[]): Promise<void> {
        // The book as it stood is not changed by what is kept now; coming back loads that anew.
        heard?.push(...states);
        if (store.stood() !== null) return;
        const known = states.filter((s) => !Number.isNaN(atCell(s.enrolment, s.assessment)));
        if (known.length === 0) return;
        if (known.some((s) => store.faults().has(cellKey(s.enrolment, s.assessment)))) {
          const faults = new Map(store.faults());
          for (const s of known) faults.delete(cellKey(s.enrolment, s.assessment));
          patchState(store, { faults });
        }
        const cells = known.map((s) => ({
          student: s.enrolment,
          item: s.assessment,
          content: s.entry,
          version: s.version,
          releaseState: s.releaseState,
        }));
        await store.worker().settle(cells).then(place).catch(unlessClosed);
      }

      return {
        place,
        placeWhole,
        placeOpened,
        placeStandings,
        /** Puts in what the server keeps of cells. */
        settle,
        /** From here on what is kept or told of is remembered, since the sheet that comes may lack it. */
        listen(anew: boolean): void {
          heard = anew ? [] : (heard ?? []);
        },
        /** Remembers what is told of while nothing is in place yet. */
        hear: (states: EntryState[]): void => void heard?.push(...states),
        /** What was heard and is not in a sheet that was loaded at a line of the journal; null: it was not loaded. */
        takeHeard(seq: number | null): EntryState[] {
          const later = heard === null || seq === null ? [] : laterThan(heard, seq);
          heard = null;
          return later;
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
