import { inject, Injectable } from '@angular/core';
import { Api, messageOf } from '../../data/api';
import { StatusBar } from '../../ui/layout/status-bar';

/** Notes that one opened a work, and that one looked it through, once each. */
@Injectable({ providedIn: 'root' })
export class OpenedNotes {
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly noted = new Set<string>();

  /** True: it was noted now, and not before. */
  async note(book: string, submission: string, through = false): Promise<boolean> {
    const key = `${this.api.person()} ${book} ${submission}${through ? ' through' : ''}`;
    if (this.noted.has(key)) return false;
    this.noted.add(key);
    try {
      await this.api.send('POST', `/books/${book}/submissions/${submission}/opened`, through ? { through } : {});
      return true;
    } catch (error) {
      this.noted.delete(key);
      this.statusBar.announce(
        `It could not be noted that you ${through ? 'looked this through' : 'opened this'}: ${messageOf(error)}`,
        'trouble',
      );
      return false;
    }
  }
}
