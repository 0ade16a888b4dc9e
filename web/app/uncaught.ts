import { type ErrorHandler, inject, Injectable } from '@angular/core';
import { StatusBar } from '../ui/layout/status-bar';
import { SheetClosed } from '../worker/sheet-session';

/** What a browser says where a file of the version that a page was loaded with is no longer on the server. */
const FILE_GONE = /dynamically imported module|Importing a module script failed|error loading dynamically/i;

/** What Angular says where a part of a page that is fetched later did not come. */
const PART_MISSING = /NG0?750/;

/** Errors that nobody caught: the person is told, and the console has all of it. */
@Injectable()
export class UncaughtErrors implements ErrorHandler {
  private readonly statusBar = inject(StatusBar);

  handleError(error: unknown): void {
    // Asked of a book that is not open any more: nobody waits for it, wherever it was asked.
    if (error instanceof SheetClosed) return;
    console.error(error);
    const message = error instanceof Error ? error.message : String(error);
    if (PART_MISSING.test(message)) {
      // Where the line is down already, what it means for what was typed is said, and more important.
      if (this.statusBar.tone() === 'trouble' && this.statusBar.message() !== '') return;
      return this.statusBar.announce(
        'A part of this page could not be fetched: load the page again once the server answers. Nothing that you typed is lost.',
        'trouble',
      );
    }
    this.statusBar.announce(
      FILE_GONE.test(message)
        ? 'There is a newer version of this page on the server: load it again. Nothing that you typed is lost.'
        : `Something went wrong on this page (${message.slice(0, 120)}). What you typed is kept; load the page again if it does not go on.`,
      'trouble',
    );
  }
}
