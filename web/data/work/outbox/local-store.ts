import { LocalDatabase } from '../../outbox/local-database';

/** Milliseconds that what comes by the letter is gathered: a transaction for each would cost as much as the letter itself. */
const GATHERED = 150;

/** One store on this machine's disk for what the server has not kept yet. */
export class LocalStore<T> {
  private readonly disk: LocalDatabase;
  /** What is put together with the next that comes. */
  private gathered: T[] = [];
  private timer: ReturnType<typeof setTimeout> | undefined;
  readonly failing;

  /** `lost`: what is said in the console where it fails. */
  constructor(
    name: string,
    store: string,
    private readonly key: string & keyof T,
    lost: string,
  ) {
    this.disk = new LocalDatabase(name, store, key, lost);
    this.failing = this.disk.failing;
    const put = (): void => void this.putGathered();
    globalThis.addEventListener?.('pagehide', put);
    globalThis.document?.addEventListener('visibilitychange', put);
  }

  async all(): Promise<T[]> {
    return (await this.disk.ask((db) => db.getAll(this.disk.store) as Promise<T[]>)) ?? [];
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
    const put = this.gathered;
    this.gathered = [];
    if (put.length > 0) await this.disk.write({ put });
  }

  async remove(values: readonly T[]): Promise<void> {
    const gone = new Set(values.map((v) => v[this.key]));
    this.gathered = this.gathered.filter((v) => !gone.has(v[this.key]));
    await this.disk.write({ remove: values.map((v) => v[this.key] as string) });
  }
}
