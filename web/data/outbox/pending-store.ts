import { signal } from '@angular/core';
import { openDB, type IDBPDatabase } from 'idb';
import { withDiskPatience } from './disk-patience';
import { renewed, type Older, type PendingWrite } from './pending-writes';

/** What waits, on this machine's disk, for one person. A disk that fails costs nothing but its own help. */
export class PendingStore {
  private database: Promise<IDBPDatabase> | null = null;
  private readonly failed = signal(false);
  /** The disk refuses, or does not answer: what waits is in this page alone. */
  readonly failing = this.failed.asReadonly();

  constructor(readonly person: string) {}

  /** All that waits, in the order made; nothing where the disk does not say. */
  async all(): Promise<PendingWrite[]> {
    const stored = ((await this.ask((db) => db.getAll('waiting'))) ?? []) as (PendingWrite | Older)[];
    return stored.map(renewed).sort((a, b) => a.order - b.order);
  }

  /** Some in the place of others, all or none. */
  async replace(gone: readonly string[], put: readonly PendingWrite[]): Promise<void> {
    const done = this.ask(async (db) => {
      const tx = db.transaction('waiting', 'readwrite');
      const asked = [...gone.map((operation) => tx.store.delete(operation)), ...put.map((w) => tx.store.put(w))];
      // Said at once: a page that is gone says nothing more.
      tx.commit();
      await Promise.all([...asked, tx.done]);
    });
    // A disk that failed before is tried again, and not waited for.
    if (!this.failed()) await done;
  }

  async clear(): Promise<void> {
    await this.ask((db) => db.clear('waiting'));
  }

  private async ask<T>(work: (db: IDBPDatabase) => Promise<T>): Promise<T | undefined> {
    try {
      const done = await withDiskPatience(this.open().then(work));
      this.failed.set(false);
      return done;
    } catch (error) {
      this.failed.set(true);
      this.database = null;
      console.error('what waits could not be kept on this machine', error);
      return undefined;
    }
  }

  private open(): Promise<IDBPDatabase> {
    return (this.database ??= openDB(`last-tally-${this.person}`, 1, {
      upgrade: (db) => void db.createObjectStore('waiting', { keyPath: 'operation' }),
      terminated: () => (this.database = null),
    }));
  }
}
