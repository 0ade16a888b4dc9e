import { patchState, signalStoreFeature, type, withMethods } from '@ngrx/signals';
import type { PutBackMade } from '@contract/history';
import type { EntryState } from '@contract/scores';
import { clock } from '../../ui/text/dates';
import type { WholeSheet } from '../../worker/protocol';
import { ApiProblem } from '../api';
import { BOOK, type BookState } from './state';

/** Milliseconds that undo waits for what was typed before it to be kept. */
const UNDO_WAITS = 10_000;

/** What was before, and what would be at the end: undo, redo, and the book as if its term ended now. */
export const withHistory = () =>
  signalStoreFeature(
    {
      ...BOOK,
      methods: type<{
        placeWhole(whole: WholeSheet, more: Partial<BookState>): void;
        settle(states: EntryState[]): Promise<void>;
        reload(): Promise<void>;
      }>(),
    },
    withMethods((store) => {
      /** Undo and redo go one after the other, whatever is pressed. */
      let steps: Promise<unknown> = Promise.resolve();

      async function putBack(kind: 'undo' | 'redo'): Promise<PutBackMade> {
        if (!(await store.outbox.idle(UNDO_WAITS)))
          throw new ApiProblem('offline', 'What you typed last is not kept yet, so nothing was put back.');
        const made = await store.operations.submit<PutBackMade>('POST', `/books/${store.id()}/${kind}`, {});
        patchState(store, { keptAt: clock(), keeps: store.keeps() + 1 });
        if (made.book) await store.reload();
        else await store.settle(made.cells);
        return made;
      }

      return {
        /** Undo or redo of one's own last change, whatever was reloaded since: the journal knows it. */
        step(kind: 'undo' | 'redo'): Promise<PutBackMade> {
          const next = steps.catch(() => undefined).then(() => putBack(kind));
          steps = next;
          return next;
        },
        putBackDone: (): Promise<unknown> => steps.catch(() => undefined),
        /** The whole sheet as if the term ended now, or as it is. */
        async showClosing(on: boolean): Promise<void> {
          store.placeWhole(await store.worker().atClosing(on), { closing: on });
        },
      };
    }),
  );
