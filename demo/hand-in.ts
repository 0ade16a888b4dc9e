import { STUDENT_PASSWORD } from './accounts.mjs';
import { Client, operation } from './client';
import type { DemoStudent } from './data/people';
import type { DemoWork } from './files/work';

interface Lying {
  begun: { id: string; version: number; files: { id: string; upload: string }[] } | null;
}

/** The students of the demo at their own pages, each signed in once. */
export class DemoStudents {
  private readonly clients = new Map<string, Promise<Client>>();

  constructor(private readonly address: string) {}

  private client(student: DemoStudent): Promise<Client> {
    const known = this.clients.get(student.login);
    if (known) return known;
    const client = Client.signedIn(this.address, student.login, STUDENT_PASSWORD);
    this.clients.set(student.login, client);
    return client;
  }

  /** Lays everything there, and hands it in: at the moment where the school's clock stands. */
  async handIn(student: DemoStudent, path: string, work: DemoWork, statement: string | null): Promise<void> {
    const client = await this.client(student);
    await this.lay(client, path, work);
    const { begun } = await client.send<Lying>('GET', path);
    await client.send('POST', `${path}/hand-in`, {
      operation: operation(),
      submission: begun!.id,
      version: begun!.version,
      statement,
      pressedAt: new Date().toISOString(),
    });
  }

  /** Begins, and never hands in. */
  async begin(student: DemoStudent, path: string, work: DemoWork): Promise<void> {
    await this.lay(await this.client(student), path, work);
  }

  /** Opens what came back of these assessments. */
  async read(student: DemoStudent, book: string, assessments: readonly string[]): Promise<void> {
    const client = await this.client(student);
    for (const assessment of assessments)
      await client.send('POST', `/my/books/${book}/slips/${assessment}/traces`, { kind: 'opened' });
  }

  async ask(student: DemoStudent, path: string, text: string): Promise<void> {
    const client = await this.client(student);
    const { messages } = await client.send<{ messages: unknown[] }>('GET', `${path}/thread`);
    await client.send('POST', `${path}/thread`, { operation: operation(), seen: messages.length, text });
  }

  private async lay(client: Client, path: string, work: DemoWork): Promise<void> {
    for (const [n, f] of work.files.entries()) {
      const id = `f${n + 1}`;
      const { files } = await client.send<NonNullable<Lying['begun']>>('POST', `${path}/files`, {
        ...{ id, name: f.name, bytes: f.bytes.length },
      });
      const sent = f.bytes.subarray(0, f.breaksOffAt ?? f.bytes.length);
      if (sent.length > 0) await client.upload(files.find((x) => x.id === id)!.upload, sent);
    }
    if (work.typed === '' && work.link === '') return;
    const { begun } = await client.send<Lying>('GET', path);
    await client.send('PUT', `${path}/work`, { version: begun?.version ?? 0, typed: work.typed, link: work.link });
  }
}
