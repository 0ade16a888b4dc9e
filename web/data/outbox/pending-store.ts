import { LocalDatabase } from './local-database';
import { renewed, type Older, type PendingWrite } from './pending-writes';

/** What waits, on this machine's disk, for one person. */
export class PendingStore {
  private readonly disk: LocalDatabase;
  readonly failing;

  constructor(readonly person: string) {
    const lost = 'what waits could not be kept on this machine';
    this.disk = new LocalDatabase(`last-tally-${person}`, 'waiting', 'operation', lost);
    this.failing = this.disk.failing;
  }

  /** All that waits, in the order made; nothing where the disk does not say. */
  async all(): Promise<PendingWrite[]> {
    const stored = ((await this.disk.ask((db) => db.getAll(this.disk.store))) ?? []) as (PendingWrite | Older)[];
    return stored.map(renewed).sort((a, b) => a.order - b.order);
  }

  /** Some in the place of others, all or none. */
  async replace(gone: readonly string[], put: readonly PendingWrite[]): Promise<void> {
    const done = this.disk.write({ put, remove: gone });
    // A disk that failed before is tried again, and not waited for.
    if (!this.failing()) await done;
  }

  async clear(): Promise<void> {
    await this.disk.ask((db) => db.clear(this.disk.store));
  }
}
