import { inject, Injectable, signal } from '@angular/core';
import { Router } from '@angular/router';
import { StatusBar } from '../../../ui/layout/status-bar';
import { GridClipboard } from '../clipboard/grid-clipboard';
import type { Goal } from '../editor/slash-words';
import type { InspectorTab } from '../inspector/cell-inspector';
import { addressOf, isPageGoal } from '../view/goal-address';
import { LedgerView } from '../view/ledger-view';
import { LedgerActs } from './ledger-acts';
import { LedgerFile } from './ledger-file';
import { LedgerReleases } from './ledger-releases';

/** What the goals need of their page. */
interface GoalsPage {
  /** Closes the line, with the cursor and the selection where they are. */
  stay(): void;
  focus(): void;
  /** Shows at once what was set. */
  detect(): void;
  writeNote(): void;
}

/** Where an action word leads that changes no cell by itself: to a part of the page, another way of looking, or another page. */
@Injectable()
export class LedgerGoals {
  private readonly view = inject(LedgerView);
  private readonly store = this.view.store;
  private readonly acts = inject(LedgerActs);
  private readonly file = inject(LedgerFile);
  private readonly clipboard = inject(GridClipboard);
  private readonly releases = inject(LedgerReleases);
  private readonly statusBar = inject(StatusBar);
  private readonly router = inject(Router);
  private page!: GoalsPage;

  readonly inspectorOpen = signal(innerWidth >= 900);
  readonly inspectorTab = signal<InspectorTab>('working');
  /** A new column is being made. */
  readonly making = signal(false);

  begin(page: GoalsPage): void {
    this.page = page;
  }

  go(goal: Goal): void {
    const place = this.view.place();
    this.page.stay();
    if (goal === 'down' || goal === 'across') void this.acts.fill(goal);
    else if (goal === 'save') this.file.save();
    else if (goal === 'copy') this.clipboard.copyNamed();
    else if (goal === 'second') void this.acts.toggleSecondLook();
    else if (goal === 'mine' || goal === 'theirs') this.acts.settleClash(goal);
    else if (goal === 'marked') this.turn();
    else if (goal === 'closing') void this.turnClosing();
    else if (goal === 'history' || goal === 'column') this.show(goal);
    else if (goal === 'note') {
      this.show('working');
      this.page.writeNote();
    } else if (goal === 'new') this.makeNew();
    else if ((goal === 'release' || goal === 'withdraw') && this.releases.begin(goal)) return;
    else if (isPageGoal(goal)) {
      const to = addressOf(goal, this.store.id(), place);
      if (to) void this.router.navigate(to.path, { queryParams: to.query });
    }
  }

  /** As marked, or as it counts. */
  turn(): void {
    this.view.change({ asMarked: !this.view.asMarked() });
    this.page.focus();
    this.statusBar.announce(
      this.view.asMarked()
        ? 'Shown as marked: before lateness and caps.'
        : 'Shown as it counts: after lateness and caps.',
    );
  }

  async turnClosing(): Promise<void> {
    await this.store.showClosing(!this.store.closing());
    this.page.focus();
  }

  private show(face: InspectorTab): void {
    this.inspectorOpen.set(true);
    this.inspectorTab.set(face);
    this.page.detect();
  }

  private makeNew(): void {
    if (this.store.mayManage()) this.making.set(true);
    else this.statusBar.announce('Assessments are made by the teachers of this book.', 'trouble');
  }
}
