import pg from 'pg';
import { setTimeout as sleep } from 'node:timers/promises';
import { ageNotes, restlessNotes, setDemoClock } from './sql';

/** Milliseconds within which they do: the job that writes their lines looks every ten seconds. */
const NOTES_REST_MS = 60_000;

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

  /** Until the notes written so far have come to rest: else their lines would stand in the journal under a later day. */
  async waitForNotes(): Promise<void> {
    await ageNotes(this.client);
    for (const until = Date.now() + NOTES_REST_MS; (await restlessNotes(this.client)) > 0; await sleep(200))
      if (Date.now() > until) throw new Error('The notes of the demo school did not come to rest.');
  }

  close(): Promise<void> {
    return this.client.end();
  }
}
