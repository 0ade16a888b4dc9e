import { signal } from '@angular/core';
import { openDB, type IDBPDatabase } from 'idb';

/** Milliseconds after which a disk that says nothing is taken for one that keeps nothing. */
const PATIENCE = 5_000;

/** One store on this machine's disk. A disk that fails costs nothing but its own help. */
export class LocalDatabase {
  private database: Promise<IDBPDatabase> | null = null;
  private readonly failed = signal(false);
  /** The disk refuses, or does not answer: what it should keep is in this page alone. */
  readonly failing = this.failed.asReadonly();

  /** `lost`: what is said in the console where it fails. */
  constructor(
    private readonly name: string,
    readonly store: string,
    private readonly key: string,
    private readonly lost: string,
  ) {}

  /** Puts some and takes others away, all or none; what is put stands also where the page is gone at once. */
  write({ put = [], remove = [] }: { put?: readonly unknown[]; remove?: readonly string[] }): Promise<unknown> {
    return this.ask(async (db) => {
      const tx = db.transaction(this.store, 'readwrite');
      const asked = [...remove.map((key) => tx.store.delete(key)), ...put.map((value) => tx.store.put(value))];
      // Said at once: a page that is gone says nothing more.
      tx.commit();
      await Promise.all([...asked, tx.done]);
    });
  }

  /** What the disk answers; undefined where it fails, or says nothing for too long. */
  async ask<T>(work: (db: IDBPDatabase) => Promise<T>): Promise<T | undefined> {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const patience = new Promise<never>((_, late) => {
      const tooLate = (): void => late(new Error('the disk does not answer'));
      // Where it was the page that was busy, the answer lies there already: it comes before this.
      timer = setTimeout(() => (timer = setTimeout(tooLate)), PATIENCE);
    });
    try {
      const done = await Promise.race([this.open().then(work), patience]);
      this.failed.set(false);
      return done;
    } catch (error) {
      this.failed.set(true);
      this.database = null;
      console.error(this.lost, error);
      return undefined;
    } finally {
      clearTimeout(timer);
    }
  }

  private open(): Promise<IDBPDatabase> {
    return (this.database ??= openDB(this.name, 1, {
      upgrade: (db) => void db.createObjectStore(this.store, { keyPath: this.key }),
      terminated: () => (this.database = null),
    }));
  }
}
