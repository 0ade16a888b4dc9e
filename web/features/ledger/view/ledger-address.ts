import { Location } from '@angular/common';
import { DestroyRef, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ActivatedRoute } from '@angular/router';
import { BookStore } from '../../../data/book';
import { LastList } from '../../../data/work/last-list';
import { LedgerView } from './ledger-view';
import { fromQuery, toQuery } from './view-settings';

/** Milliseconds after the last change of the look before the address follows. */
const FOLLOWS = 300;

/** The ledger's address: it begins with the look that stands there, and follows the look from then on. */
@Injectable()
export class LedgerAddress {
  private readonly view = inject(LedgerView);
  private readonly store = inject(BookStore);
  private readonly route = inject(ActivatedRoute);
  private readonly location = inject(Location);
  private readonly destroyed = inject(DestroyRef);
  private readonly lastList = inject(LastList);
  private readonly jumped = signal(0);
  private done = 0;

  /** To be called while the page is made. `goTo` shows a cell. */
  begin(goTo: (row: number, col: number) => void): void {
    this.beginWithLook();
    let book = this.store.id();
    effect(() => {
      const id = this.store.id();
      // The page stays when it shows another book; what was looked for in the one before is not meant there.
      if (book !== '' && id !== book) untracked(() => this.beginWithLook());
      book = id;
    });
    let timer: ReturnType<typeof setTimeout> | undefined;
    // Without a step back in the browser for every word.
    effect(() => {
      clearTimeout(timer);
      if (!this.store.cells()) return;
      const stood = this.store.stood();
      const query = [toQuery(this.view.settings()), stood === null ? '' : `stood=${stood}`].filter(Boolean).join('&');
      timer = setTimeout(() => this.location.replaceState(`/book/${this.store.id()}/ledger`, query), FOLLOWS);
    });
    this.destroyed.onDestroy(() => clearTimeout(timer));
    effect(() => {
      const [students, shown] = [this.store.students(), new Set(this.view.rows())];
      this.lastList.set({
        ...{ book: this.store.id(), list: 'the ledger', words: this.view.hidden().join(', ') },
        enrolments: new Set(students.filter((_, s) => !shown.has(s))),
        path: ['/book', this.store.id(), 'ledger'],
      });
    });
    this.route.queryParamMap.pipe(takeUntilDestroyed(this.destroyed)).subscribe(() => this.jumped.update((n) => n + 1));
    effect(() => {
      this.jumped();
      const stood = Number(this.route.snapshot.queryParamMap.get('stood') ?? NaN);
      // Once the book as it is now is there, so that nothing overtakes the other.
      if (this.store.standings().length === 0 || !Number.isInteger(stood)) return;
      untracked(() => {
        if (this.done !== this.jumped()) void this.store.showStood(stood);
        this.done = this.jumped();
      });
    });
    effect(() => {
      this.jumped();
      if (this.store.items().length > 0) untracked(() => this.jump(goTo));
    });
  }

  /** With the look of the address. */
  private beginWithLook(): void {
    this.view.begin(fromQuery(this.location.path().split('?')[1] ?? ''));
  }

  /** An address may name a student and an assessment to begin at. */
  private jump(goTo: (row: number, col: number) => void): void {
    const params = this.route.snapshot.queryParamMap;
    const [student, item] = [params.get('student'), params.get('assessment')];
    if (student === null && item === null) return;
    const s = student === null ? undefined : this.store.studentIndex().get(student);
    if (s !== undefined && !this.view.rows().includes(s))
      this.view.change({ section: null, group: null, find: '', only: null, below: null });
    const { row, col } = this.view.cursor();
    const toRow = s === undefined ? row : this.view.rows().indexOf(s);
    const toCol = item === null ? col : this.view.colOf(item);
    goTo(Math.max(0, toRow), toCol < 0 ? col : toCol);
  }
}
