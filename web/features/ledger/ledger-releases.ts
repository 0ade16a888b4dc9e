import { inject, Injectable, signal } from '@angular/core';
import { counted } from '@core/words/count';
import { StatusBar } from '../../ui/layout/status-bar';
import { LedgerView } from './view/ledger-view';

/** What is about to be released or withdrawn: one assessment, to those of its selected cells. */
export interface AskedRelease {
  act: 'release' | 'withdraw';
  assessment: string;
  enrolments: readonly string[];
}

/** Releases and withdrawals of the selected cells: of several columns one after the other. */
@Injectable()
export class LedgerReleases {
  private readonly view = inject(LedgerView);
  private readonly statusBar = inject(StatusBar);
  private readonly queue = signal<readonly AskedRelease[]>([]);
  /** The one that is asked about now; null: none. */
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
    this.queue.set([...columns].map(([assessment, enrolments]) => ({ act, assessment, enrolments })));
    this.next();
    return true;
  }

  done(people: number): void {
    const one = this.asked()?.act === 'release' ? 'student sees it now' : 'student does not see it any more';
    const many = this.asked()?.act === 'release' ? 'students see it now' : 'students do not see it any more';
    this.statusBar.announce(`${counted(people, one, many)}.`);
    this.next();
  }

  /** On to the next column, or to the end. */
  next(): void {
    const [first, ...rest] = this.queue();
    this.queue.set(rest);
    this.asked.set(first ?? null);
  }

  leave(): void {
    this.queue.set([]);
    this.asked.set(null);
  }
}
