import { effect, inject, Injectable, signal, untracked, type WritableSignal } from '@angular/core';
import { Api } from './api';

const PREFIX = 'last-tally-draft';
/** Characters of a draft that outlives a reload; a larger one is kept for as long as the page is open. */
const LONGEST = 1_000_000;

/** Has a text that is too long by itself: a file of scores is not written out to find that. */
const isLong = (draft: object | string): boolean =>
  (typeof draft === 'string' ? [draft] : Object.values(draft)).some((v) => typeof v === 'string' && v.length > LONGEST);

/**
 * What was begun on a page and not made: it is there again when its person comes back in this tab, after a reload too.
 * Each person's drafts are their own.
 */
@Injectable({ providedIn: 'root' })
export class KeptDrafts {
  private readonly api = inject(Api);
  private readonly here = new Map<string, unknown>();

  /** What was left at a place; null: nothing. */
  read<T>(place: string): T | null {
    const key = this.keyOf(place);
    if (this.here.has(key)) return this.here.get(key) as T;
    try {
      const text = sessionStorage.getItem(key);
      return text === null ? null : (JSON.parse(text) as T);
    } catch {
      // A browser that keeps nothing, or something that is no draft of ours.
      return null;
    }
  }

  /** Keeps a draft; null: it was made, or dropped. */
  keep(place: string, draft: object | string | null): void {
    const key = this.keyOf(place);
    if (draft === null || draft === '') this.here.delete(key);
    else this.here.set(key, draft);
    try {
      const text = draft === null || draft === '' || isLong(draft) ? null : JSON.stringify(draft);
      if (text === null || text.length > LONGEST) sessionStorage.removeItem(key);
      else sessionStorage.setItem(key, text);
    } catch {
      // Full, or refused: this page still has it.
    }
  }

  /** Lets go of all that this person left: somebody else may sit here next. */
  forget(): void {
    const mine = this.keyOf('');
    for (const key of [...this.here.keys()].filter((k) => k.startsWith(mine))) this.here.delete(key);
    try {
      for (const key of Object.keys(sessionStorage).filter((k) => k.startsWith(mine))) sessionStorage.removeItem(key);
    } catch {
      // A browser that keeps nothing has nothing to let go of.
    }
  }

  /**
   * Something that this page alone keeps, not the browser, since it is not for others to find; to be called where a page is
   * made. `place` empty: it is not known yet.
   */
  held<T extends object>(place: () => string, none: T): WritableSignal<T> {
    return this.kept(
      place,
      none,
      (at) => (this.here.get(this.keyOf(at)) as T | undefined) ?? none,
      (at, now) => {
        if (now === none) this.here.delete(this.keyOf(at));
        else this.here.set(this.keyOf(at), now);
      },
    );
  }

  /** Text that is kept at a place while it is not empty; the same otherwise. */
  text(place: () => string): WritableSignal<string> {
    return this.kept(
      place,
      '',
      (at) => this.read<string>(at) ?? '',
      (at, now) => this.keep(at, now),
    );
  }

  /** A signal that is read from its place once that is known, and written there whenever it is set: a page may be left at once. */
  private kept<T>(
    place: () => string,
    none: T,
    read: (at: string) => T,
    write: (at: string, now: T) => void,
  ): WritableSignal<T> {
    const value = signal(none);
    const set = value.set.bind(value);
    value.set = (now) => {
      set(now);
      const at = untracked(place);
      if (at !== '') write(at, now);
    };
    value.update = (change) => value.set(change(untracked(value)));
    let known = false;
    effect(() => {
      const at = place();
      if (at === '' || known) return;
      known = true;
      if (untracked(value) === none) set(read(at));
    });
    return value;
  }

  private keyOf(place: string): string {
    return `${PREFIX} ${this.api.person()} ${place}`;
  }
}
