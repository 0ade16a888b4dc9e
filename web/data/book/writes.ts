import { signalStoreFeature, type, withMethods } from '@ngrx/signals';
import { cellKey } from '@contract/wire/cell-key';
import type { CellChange } from '@core/book/change';
import type { ChangesWrite, EntryState } from '@contract/scores';
import type { RowUpdate } from '../../worker/protocol';
import { unlessClosed } from '../../worker/sheet-session';
import { newOperation } from '../api';
import type { PendingLevels } from '../outbox/pending-writes';
import { isNewer } from '../columns';
import { BOOK } from './state';

/** A cell to be changed, with what was typed. */
export interface CellWrite {
  student: string;
  item: string;
  change: CellChange;
  typed: string;
  /** The version that the person looked at, where that was before now; else what is shown. */
  seen?: number;
}

/** How cells change here: shown and worked out at once, kept by the outbox; and what others change is taken over. */
export const withWrites = () =>
  signalStoreFeature(
    {
      ...BOOK,
      methods: type<{
        place(updates: RowUpdate[]): void;
        settle(states: EntryState[]): Promise<void>;
        hear(states: EntryState[]): void;
        atCell(student: string, item: string): number;
        versionAt(student: string, item: string): number;
        reload(): Promise<void>;
        /** Ends when what is being put back is in its place. */
        putBackDone(): Promise<unknown>;
      }>(),
    },
    withMethods((store) => {
      /** Ends when the last change made here is in the columns. */
      let shown: Promise<unknown> = Promise.resolve();

      /** Makes changes that are one: shown and worked out at once, kept as soon as the server answers. */
      async function changeAll(kind: ChangesWrite['kind'], writes: CellWrite[], levels?: PendingLevels): Promise<void> {
        if (writes.length === 0) return;
        const put = store.outbox.put({
          operation: newOperation(),
          book: store.id(),
          kind,
          ...(levels && { levels }),
          cells: writes.map(({ seen, ...w }) => ({ ...w, version: seen ?? store.versionAt(w.student, w.item) })),
        });
        shown = store
          .worker()
          .change(writes)
          .then((updates) => store.place(updates))
          .catch(unlessClosed);
        await shown;
        await put;
      }

      return {
        /** Once all that was typed is in the columns: what one types at next may follow within a millisecond. */
        shown: (): Promise<unknown> => shown.catch(() => undefined),
        changeAll,
        change: (write: CellWrite): Promise<void> => changeAll('change', [write]),
        /** Gives levels, with what follows of them in their cell. */
        changeLevels: (levels: PendingLevels, write: CellWrite): Promise<void> => changeAll('change', [write], levels),
        /** What others changed: taken over where nothing of one's own waits for the cell. */
        async takeOver(states: EntryState[]): Promise<EntryState[]> {
          // One's own undo may be told of here before its answer is in place; then it is no news.
          await store.putBackDone();
          // Back from an earlier moment nothing is in place yet; the sheet that is on its way may lack it.
          if (store.stood() !== null) store.hear(states);
          const cells = store.stood() === null ? store.cells() : null;
          const unkept = store.outbox.unkept();
          const news = states.filter(
            (s) =>
              cells !== null &&
              !unkept.has(cellKey(s.enrolment, s.assessment)) &&
              isNewer(cells, store.atCell(s.enrolment, s.assessment), s),
          );
          await store.settle(news);
          return news;
        },
        /** After a clash: what the other person kept takes the place of one's own. */
        async takeTheirs(student: string, item: string): Promise<void> {
          const trouble = store.outbox.troubles().get(cellKey(student, item));
          await store.outbox.drop(student, item);
          if (trouble?.kind === 'clash') await store.settle([trouble.theirs]);
          else await store.reload();
        },
      };
    }),
  );
