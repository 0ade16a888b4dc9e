import { Injectable, signal } from '@angular/core';

/** What a list of students leaves out because of the filter in force. */
export interface HiddenRows {
  book: string;
  /** "the ledger of Fens". */
  list: string;
  /** What it leaves out, in words: "9 of other sections". */
  words: string;
  enrolments: ReadonlySet<string>;
  /** Where the list stands without the filter. */
  path: readonly string[];
}

/** What the list that was looked at last leaves out; it stays when the list is left, for whoever looks for a student then. */
@Injectable({ providedIn: 'root' })
export class LastList {
  private readonly list = signal<HiddenRows | null>(null);
  readonly hides = this.list.asReadonly();

  set(hides: HiddenRows): void {
    this.list.set(hides.enrolments.size > 0 ? hides : null);
  }
}
