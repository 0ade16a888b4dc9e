import { patchState, signalStoreFeature, type, withHooks, withMethods, withProps } from '@ngrx/signals';
import {
  BehaviorSubject,
  catchError,
  concat,
  defer,
  EMPTY as NOTHING,
  filter,
  firstValueFrom,
  from,
  ignoreElements,
  map,
  type Observable,
  of,
  Subject,
  type Subscription,
  switchMap,
  tap,
} from 'rxjs';
import type { BookPage } from '@contract/books';
import type { EntryState } from '@contract/scores';
import { clock } from '../../ui/text/dates';
import { titlesWithPoints, withPoints } from '../../ui/text/locale';
import type { OpenedSheet, RowUpdate } from '../../worker/protocol';
import { openSheet } from '../../worker/sheet-client';
import { messageOf } from '../api';
import type { PendingWrite } from '../outbox/pending-writes';
import type { Standings } from './sheet';
import { BOOK, EMPTY, type BookState } from './state';

/** A book that is to be opened as it is now by somebody, or the open one as it stood after a line of its journal. */
type Opening = { id: string; person: string } | { stood: number };

/**
 * The session with one book. One opening takes the place of the one before it, whatever that had still to come: what is
 * late of another book is dropped.
 */
export const withSession = () =>
  signalStoreFeature(
    {
      ...BOOK,
      methods: type<{
        place(updates: RowUpdate[]): void;
        placeOpened(opened: OpenedSheet, more: Partial<BookState>): void;
        placeStandings(standings: Standings): void;
        settle(states: EntryState[]): Promise<void>;
        listen(anew: boolean): void;
        takeHeard(seq: number | null): EntryState[];
      }>(),
    },
    withProps(() => ({
      openings: new Subject<Opening>(),
      /** An opening is under way. */
      opening: new BehaviorSubject(false),
    })),
    withMethods((store) => {
      let owner = '';

      const standings = (): Observable<unknown> =>
        defer(() => store.worker().standings()).pipe(tap((all) => store.placeStandings(all)));

      const openNow = (id: string, person: string): Observable<unknown> =>
        defer(() => {
          owner = person;
          const another = store.id() !== id;
          if (another) patchState(store, { ...EMPTY, id });
          store.listen(another);
          const sheet = openSheet(store.worker(), id);
          // Where another is opened first nobody waits for this one any more.
          sheet.catch(() => undefined);
          return from(store.api.get<BookPage>(`/books/${encodeURIComponent(id)}`)).pipe(
            tap((page) => {
              patchState(store, { page, problem: '' });
              titlesWithPoints.set(withPoints(page.assessments.map((a) => a.title)));
            }),
            switchMap(() => sheet),
            tap((opened) => store.placeOpened(opened, { seq: opened.seq, stood: null })),
            switchMap((opened) => store.settle(store.takeHeard(opened.seq))),
            switchMap(standings),
            switchMap(() => store.outbox.open(person, id, kept)),
            switchMap(showLeft),
            catchError((error: unknown) => {
              store.takeHeard(null);
              patchState(store, { problem: messageOf(error) });
              return NOTHING;
            }),
          );
        });

      const openStood = (line: number): Observable<unknown> =>
        defer(() => store.worker().openAsOf(store.id(), String(line))).pipe(
          switchMap((opened) => from(store.worker().standings()).pipe(map((all) => ({ opened, all })))),
          tap(({ opened, all }) => {
            store.placeOpened(opened, { stood: opened.seq });
            store.placeStandings(all);
          }),
          catchError((error: unknown) => {
            patchState(store, { problem: messageOf(error) });
            return NOTHING;
          }),
        );

      /** What the outbox has kept is put in its place. */
      function kept(book: string, states: EntryState[], more: (state: EntryState) => boolean): void {
        if (book !== store.id()) return;
        patchState(store, { keptAt: clock(), keeps: store.keeps() + 1 });
        // With more of a cell still waiting, what is shown is newer than what was just kept.
        void store.settle(states.filter((s) => !more(s)));
      }

      /** Changes that a reload or a dead line left behind are shown again, as not kept yet. */
      const showLeft = (left: readonly PendingWrite[]): Observable<unknown> =>
        concat(
          ...left.map((w) =>
            defer(() => store.worker().change(w.cells)).pipe(
              tap((updates) => store.place(updates)),
              catchError(() => NOTHING),
            ),
          ),
        );

      /** Where another is begun meanwhile, this ends when that is there: what was asked for is in it. */
      function begin(opening: Opening): Promise<void> {
        store.openings.next(opening);
        return firstValueFrom(
          store.opening.pipe(
            filter((busy) => !busy),
            map(() => undefined),
          ),
        );
      }

      return {
        run: (opening: Opening): Observable<unknown> =>
          'stood' in opening ? openStood(opening.stood) : openNow(opening.id, opening.person),
        open: (id: string, person: string): Promise<void> => begin({ id, person }),
        /** What the book is beside its scores, once more. */
        readPage: async (): Promise<void> => {
          const id = store.id();
          const page = await store.api.get<BookPage>(`/books/${encodeURIComponent(id)}`);
          if (store.id() === id && store.stood() === null) patchState(store, { page });
        },
        /** The open book once more, as the server has it now. */
        reload: (): Promise<void> => begin({ id: store.id(), person: owner }),
        /** The sheet as it stood after a line of the journal: to be looked at, not changed. Null: as it is now. */
        showStood: (line: number | null): Promise<void> =>
          begin(line === null ? { id: store.id(), person: owner } : { stood: line }),
      };
    }),
    withHooks((store) => {
      let subscription: Subscription;
      return {
        onInit(): void {
          subscription = store.openings
            .pipe(switchMap((opening) => concat(of(true), store.run(opening).pipe(ignoreElements()), of(false))))
            .subscribe((busy) => store.opening.next(busy as boolean));
        },
        onDestroy: () => subscription.unsubscribe(),
      };
    }),
  );
