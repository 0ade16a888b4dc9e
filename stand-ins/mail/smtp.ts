import { setTimeout as pause } from 'node:timers/promises';
import { SMTPServer } from 'smtp-server';
import type { Mailbox } from './mailbox';

/** What is wrong with the mail server at present. */
export interface Faults {
  /** It does not listen at all. */
  down: boolean;
  /** Seconds that it takes over each mail. */
  slow: number;
  /** Addresses to which it takes nothing, in small letters. */
  refuses: string[];
  /** It takes a mail in, and never says so. */
  silent: boolean;
}

export const NO_FAULTS: Faults = { down: false, slow: 0, refuses: [], silent: false };

/** A mail server that keeps what it is sent, with faults that can be switched on. */
export class Smtp {
  faults: Faults = NO_FAULTS;
  private server: SMTPServer | null = null;
  private port = 0;

  constructor(private readonly mailbox: Mailbox) {}

  /** Gives the port that it listens on; 0: any that is free. */
  async listen(port: number): Promise<number> {
    const server = this.makeServer();
    await new Promise<void>((done, failed) => {
      server.server.once('error', failed);
      server.listen(port, '127.0.0.1', done);
    });
    // A line that breaks in the middle of a mail: whoever sent it tries again.
    server.on('error', () => undefined);
    this.server = server;
    this.port = (server.server.address() as { port: number }).port;
    return this.port;
  }

  async setFaults(faults: Faults): Promise<void> {
    const before = this.faults;
    this.faults = faults;
    if (faults.down && !before.down) await this.close();
    if (!faults.down && before.down) await this.listen(this.port);
  }

  async close(): Promise<void> {
    const server = this.server;
    this.server = null;
    if (server) await new Promise<void>((done) => server.close(done));
  }

  private makeServer(): SMTPServer {
    return new SMTPServer({
      authOptional: true,
      disabledCommands: ['STARTTLS', 'AUTH'],
      closeTimeout: 200,
      onRcptTo: (address, _session, done) => {
        if (!this.faults.refuses.includes(address.address.toLowerCase())) return done();
        done(Object.assign(new Error('nobody of that name is here'), { responseCode: 550 }));
      },
      onData: (stream, session, done) => {
        const pieces: Buffer[] = [];
        stream.on('data', (piece: Buffer) => pieces.push(piece));
        stream.on('end', () => {
          const to = session.envelope.rcptTo.map((r) => r.address);
          void this.keep(Buffer.concat(pieces), to).then(
            () => (this.faults.silent ? undefined : done()),
            (error: Error) => done(error),
          );
        });
      },
    });
  }

  private async keep(raw: Buffer, to: string[]): Promise<void> {
    if (this.faults.slow > 0) await pause(this.faults.slow * 1_000);
    await this.mailbox.take(raw, to);
  }
}
