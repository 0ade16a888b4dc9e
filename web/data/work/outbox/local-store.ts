import { signal } from '@angular/core';
import { openDB, type IDBPDatabase } from 'idb';
import { withDiskPatience } from '../../outbox/disk-patience';

/** Milliseconds that what comes by the letter is gathered: a transaction for each would cost as much as the letter itself. */
const GATHERED = 150;

/** One store on this machine's disk for what the server has not kept yet. A disk that fails costs nothing but its own help. */
export class LocalStore<T> {
  private database: Promise<IDBPDatabase> | null = null;
  /** What is put together with the next that comes. */
  private gathered: T[] = [];
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** This machine's disk keeps nothing: what is not kept by the server would be lost with the page. */
  readonly failing = signal(false);

  /** `lost`: what is said in the console where it fails. */
  constructor(
    private readonly name: string,
    private readonly store: string,
    private readonly key: string & keyof T,
    private readonly lost: string,
  ) {
    const put = (): void => void this.putGathered();
    globalThis.addEventListener?.('pagehide', put);
    globalThis.document?.addEventListener('visibilitychange', put);
  }

  all(): Promise<T[]> {
    return this.ask((db) => db.getAll(this.store) as Promise<T[]>).then((all) => all ?? []);
  }

  /** Puts it, and before it what was gathered: the last of a thing is what stands. */
  put(value: T): Promise<void> {
    this.gather(value);
    return this.putGathered();
  }

  /** Puts it with all that comes within a moment; at once where the page is left or out of sight. */
  putSoon(value: T): void {
    this.gather(value);
    this.timer ??= setTimeout(() => void this.putGathered(), GATHERED);
  }

  /** What comes later of the same thing takes the place of what came before. */
  private gather(value: T): void {
    this.gathered = this.gathered.filter((v) => v[this.key] !== value[this.key]);
    this.gathered.push(value);
  }

  private async putGathered(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    const values = this.gathered;
    this.gathered = [];
    if (values.length === 0) return;
    await this.ask(async (db) => {
      const tx = db.transaction(this.store, 'readwrite');
      const puts = values.map((v) => tx.store.put(v));
      // Said at once: a page that is gone says nothing more.
      tx.commit();
      await Promise.all([...puts, tx.done]);
    });
  }

  async remove(values: readonly T[]): Promise<void> {
    const gone = new Set(values.map((v) => v[this.key]));
    this.gathered = this.gathered.filter((v) => !gone.has(v[this.key]));
    await this.ask(async (db) => {
      const tx = db.transaction(this.store, 'readwrite');
      await Promise.all([...values.map((v) => tx.store.delete(v[this.key] as string)), tx.done]);
    });
  }

  private async ask<A>(work: (db: IDBPDatabase) => Promise<A>): Promise<A | undefined> {
    try {
      const done = await withDiskPatience(this.open().then(work));
      this.failing.set(false);
      return done;
    } catch (error) {
      this.database = null;
      this.failing.set(true);
      console.error(this.lost, error);
      return undefined;
    }
  }

  private open(): Promise<IDBPDatabase> {
    return (this.database ??= openDB(this.name, 1, {
      upgrade: (db) => void db.createObjectStore(this.store, { keyPath: this.key }),
      terminated: () => (this.database = null),
    }));
  }
}
