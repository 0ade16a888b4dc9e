import { Injectable, signal } from '@angular/core';

/** What was typed into a cell and could not be read, with the sentence that says why. */
export interface UnreadableEntry {
  text: string;
  message: string;
}

/**
 * Cells with something typed that cannot be read. It stays on this machine, in its cell and marked, until it is put
 * right or taken away; it is never a score.
 */
@Injectable({ providedIn: 'root' })
export class UnreadableEntries {
  private key = '';
  readonly all = signal<ReadonlyMap<string, UnreadableEntry>>(new Map());

  /** Those of a person in a book, a reload ago or more. */
  open(person: string, book: string): void {
    // The key is that of the first version: what waits under it is read.
    this.key = `last-tally-scribbles ${person} ${book}`;
    this.all.set(new Map(read(this.key)));
  }

  /** How many of a person's there are on this machine, over all books. */
  count(person: string): number {
    return keysOf(person).reduce((n, key) => n + read(key).length, 0);
  }

  /** Takes all of a person's away from this machine, after they said so at sign-out. */
  clear(person: string): void {
    for (const key of keysOf(person)) localStorage.removeItem(key);
    this.all.set(new Map());
  }

  keep(entries: Iterable<[string, UnreadableEntry]>): void {
    this.change((next) => {
      for (const [key, entry] of entries) next.set(key, entry);
    });
  }

  drop(keys: Iterable<string>): void {
    const gone = [...keys].filter((k) => this.all().has(k));
    if (gone.length > 0)
      this.change((next) => {
        for (const key of gone) next.delete(key);
      });
  }

  private change(how: (next: Map<string, UnreadableEntry>) => void): void {
    const next = new Map(this.all());
    how(next);
    this.all.set(next);
    if (next.size === 0) localStorage.removeItem(this.key);
    else localStorage.setItem(this.key, JSON.stringify([...next]));
  }
}

/** What the machine holds under a key; nothing where that is no list of ours. */
function read(key: string): [string, UnreadableEntry][] {
  try {
    const all = JSON.parse(localStorage.getItem(key) ?? '[]') as unknown;
    if (!Array.isArray(all)) return [];
    // Entries of an earlier version of the page have the sentence as `says`.
    return (all as [string, UnreadableEntry & { says?: string }][]).map(([cell, { text, message, says }]) => [
      cell,
      { text, message: message ?? says ?? '' },
    ]);
  } catch {
    return [];
  }
}

const keysOf = (person: string): string[] =>
  Object.keys(localStorage).filter((key) => key.startsWith(`last-tally-scribbles ${person} `));
