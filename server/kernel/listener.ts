import pg from 'pg';

/** What the database says: a channel and its few words. */
export type NotificationHandler = (channel: string, words: string) => void;

/**
 * One connection that listens for as long as it is wanted. Where it breaks it is made anew, and `again` is called: what
 * was said meanwhile was not heard.
 */
export class Listener {
  private client: pg.Client | null = null;
  private ended = false;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly databaseUrl: string,
    private readonly channels: readonly string[],
    private readonly heard: NotificationHandler,
    private readonly again: () => void,
  ) {}

  async start(): Promise<void> {
    const client = new pg.Client({
      connectionString: this.databaseUrl,
      connectionTimeoutMillis: 5_000,
      keepAlive: true,
    });
    client.on('notification', (n) => this.heard(n.channel, n.payload ?? ''));
    client.on('error', () => this.lost(client));
    client.on('end', () => this.lost(client));
    try {
      await client.connect();
      for (const channel of this.channels) await client.query(`listen ${client.escapeIdentifier(channel)}`);
    } catch (error) {
      // Half a connection is none: it is let go of, or each try would leave one behind.
      await client.end().catch(() => undefined);
      throw error;
    }
    this.client = client;
  }

  private lost(client: pg.Client): void {
    if (this.ended || (this.client !== null && this.client !== client)) return;
    this.client = null;
    client.end().catch(() => undefined);
    this.timer ??= setTimeout(() => {
      this.timer = undefined;
      if (this.ended) return;
      // A failed connection is reported by its own event too; only one further try is ever set.
      this.start().then(this.again, () => this.lost(client));
    }, 500);
  }

  async stop(): Promise<void> {
    this.ended = true;
    clearTimeout(this.timer);
    const client = this.client;
    this.client = null;
    await client?.end().catch(() => undefined);
  }
}
