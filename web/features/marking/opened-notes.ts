import { inject, Injectable } from '@angular/core';
import { Api, messageOf } from '../../data/api';
import { StatusBar } from '../../ui/layout/status-bar';

/** Notes that one opened a work, once each. */
@Injectable({ providedIn: 'root' })
export class OpenedNotes {
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly noted = new Set<string>();

  async note(book: string, submission: string): Promise<void> {
    const key = `${this.api.person()} ${book} ${submission}`;
    if (this.noted.has(key)) return;
    this.noted.add(key);
    try {
      await this.api.send('POST', `/books/${book}/submissions/${submission}/opened`, {});
    } catch (error) {
      this.noted.delete(key);
      this.statusBar.announce(`It could not be noted that you opened this: ${messageOf(error)}`, 'trouble');
    }
  }
}
