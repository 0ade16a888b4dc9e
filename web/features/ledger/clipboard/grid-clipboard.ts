import { inject, Injectable } from '@angular/core';
import { LedgerActs } from '../acts/ledger-acts';
import { LedgerLine } from '../editor/ledger-line';
import { LedgerView } from '../view/ledger-view';
import { LedgerCopying } from './copying';

/** Copying, cutting and pasting by the browser's own keys, while the grid has the focus and nothing else is selected. */
@Injectable()
export class GridClipboard {
  private readonly view = inject(LedgerView);
  private readonly acts = inject(LedgerActs);
  private readonly line = inject(LedgerLine);
  private readonly copying = inject(LedgerCopying);
  private grid!: () => HTMLElement;
  /** What is copied next has names and headings. */
  private named = false;

  begin(grid: () => HTMLElement): void {
    this.grid = grid;
  }

  copied(event: ClipboardEvent): void {
    if (document.activeElement !== this.grid() || !event.clipboardData || !this.view.store.cells()) return;
    event.preventDefault();
    if (this.named) this.copying.copyNamed(event.clipboardData);
    else this.copying.copy(event.clipboardData);
    if (event.type === 'cut') void this.acts.clear();
  }

  copyNamed(): void {
    this.grid().focus();
    this.named = true;
    try {
      // The browser lets a page write its clipboard where it is asked to copy, with no permission of its own.
      document.execCommand('copy');
    } finally {
      this.named = false;
    }
  }

  pasted(event: ClipboardEvent): void {
    if (this.line.editing() || document.activeElement !== this.grid() || !event.clipboardData) return;
    event.preventDefault();
    void this.acts.paste(event.clipboardData);
  }
}
