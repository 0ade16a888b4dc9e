import { inject, Injectable, signal } from '@angular/core';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { MarkingList } from './list/marking-list';

/** Names on the page of the marking room: hidden for oneself, or for all until a teacher shows them. For one page. */
@Injectable()
export class HiddenNames {
  private readonly store = inject(BookStore);
  private readonly people = inject(MarkingList);
  private readonly statusBar = inject(StatusBar);

  /** It is asked whether names are to be shown, for all at once. */
  readonly showing = signal(false);

  /** Hides names on this page, for oneself alone, or shows them again. Where they are hidden for all, a teacher may show them. */
  hideNames(): void {
    if (this.store.veiled() !== '') {
      if (this.store.mayManage()) return this.showing.set(true);
      return this.statusBar.announce('Names are hidden here for all who mark, until a teacher shows them.');
    }
    this.people.hidden.update((was) => !was);
    this.statusBar.announce(
      this.people.hidden()
        ? 'Names are hidden on this page, for you alone. What stands within the work itself is shown as it is.'
        : 'Names are shown.',
    );
  }
}
