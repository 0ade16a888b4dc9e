import { Injectable, signal } from '@angular/core';

/** Something that can be done on the page that is open. */
export interface Action {
  id: string;
  label: string;
  /** Its key or word, as a hint. */
  key: string;
  run(): void;
}

/** The line that goes anywhere, and what the open page adds to it. */
@Injectable({ providedIn: 'root' })
export class CommandPalette {
  readonly open = signal(false);
  readonly actions = signal<Action[]>([]);
}
