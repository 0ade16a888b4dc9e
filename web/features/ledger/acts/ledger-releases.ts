import { inject, Injectable, signal } from '@angular/core';
import { counted } from '@core/words/count';
import type { ReleaseColumn } from '../../../release/release-columns';
import { StatusBar } from '../../../ui/layout/status-bar';
import { LedgerView } from '../view/ledger-view';

/** What is about to be released or withdrawn: the assessments of the selected cells, each to its students. */
export interface AskedRelease {
  act: 'release' | 'withdraw';
  columns: readonly ReleaseColumn[];
}

/** Releases and withdrawals of the selected cells. */
@Injectable()
export class LedgerReleases {
  private readonly view = inject(LedgerView);
  private readonly statusBar = inject(StatusBar);
  /** What is asked about now; null: nothing. */
  readonly asked = signal<AskedRelease | null>(null);

  /** Gives whether there is anything selected that it is about. */
  begin(act: AskedRelease['act']): boolean {
    if (!this.view.store.mayManage()) {
      this.statusBar.announce('Only the teachers of this book release.', 'trouble');
      return true;
    }
    const columns = new Map<string, string[]>();
    for (const { item, student } of this.view.cells()) columns.set(item, [...(columns.get(item) ?? []), student]);
    if (columns.size === 0) return false;
    this.asked.set({ act, columns: [...columns].map(([assessment, enrolments]) => ({ assessment, enrolments })) });
    return true;
  }

  done(people: number): void {
    const { act, columns } = this.asked()!;
    const it = columns.length > 1 ? 'them' : 'it';
    const one = act === 'release' ? `student sees ${it} now` : `student does not see ${it} any more`;
    const many = act === 'release' ? `students see ${it} now` : `students do not see ${it} any more`;
    this.statusBar.announce(`${counted(people, one, many)}.`);
    this.leave();
  }

  planned(): void {
    this.statusBar.announce('It is planned. The release page shows it and calls it off.');
    this.leave();
  }

  leave(): void {
    this.asked.set(null);
  }
}
