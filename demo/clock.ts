import pg from 'pg';
import { setDemoClock } from './sql';

/** Moves the clock of the made-up school: what is made next is made then. No request can. */
export class DemoClock {
  private constructor(private readonly client: pg.Client) {}

  static async open(databaseUrl: string): Promise<DemoClock> {
    const client = new pg.Client({ connectionString: databaseUrl });
    await client.connect();
    return new DemoClock(client);
  }

  set(moment: string): Promise<void> {
    return setDemoClock(this.client, moment);
  }

  close(): Promise<void> {
    return this.client.end();
  }
}
