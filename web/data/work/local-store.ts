import { signal } from '@angular/core';
import { openDB, type IDBPDatabase } from 'idb';

/** One store on this machine's disk for what the server has not kept yet. A disk that fails costs nothing but its own help. */
export class LocalStore<T> {
  private database: Promise<IDBPDatabase> | null = null;
  /** This machine's disk keeps nothing: what is not kept by the server would be lost with the page. */
  readonly failing = signal(false);

  /** `lost`: what is said in the console where it fails. */
  constructor(
    private readonly name: string,
    private readonly store: string,
    private readonly key: string & keyof T,
    private readonly lost: string,
  ) {}

  all(): Promise<T[]> {
    return this.ask((db) => db.getAll(this.store) as Promise<T[]>).then((all) => all ?? []);
  }

  async put(value: T): Promise<void> {
    await this.ask((db) => db.put(this.store, value));
  }

  async remove(values: readonly T[]): Promise<void> {
    await this.ask(async (db) => {
      const tx = db.transaction(this.store, 'readwrite');
      await Promise.all([...values.map((v) => tx.store.delete(v[this.key] as string)), tx.done]);
    });
  }

  private async ask<A>(work: (db: IDBPDatabase) => Promise<A>): Promise<A | undefined> {
    try {
      this.database ??= openDB(this.name, 1, {
        upgrade: (db) => void db.createObjectStore(this.store, { keyPath: this.key }),
        terminated: () => (this.database = null),
      });
      const done = await work(await this.database);
      this.failing.set(false);
      return done;
    } catch (error) {
      this.database = null;
      this.failing.set(true);
      console.error(this.lost, error);
      return undefined;
    }
  }
}
