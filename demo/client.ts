import { newOperation } from '@contract/wire/operation';

/** One signed-in person of the demo, speaking to the API as their browser would. */
export class Client {
  private cookie = '';
  private token = '';

  constructor(private readonly address: string) {}

  static async signedIn(address: string, login: string, password: string): Promise<Client> {
    const client = new Client(address);
    const me = await client.send<{ token: string }>('POST', '/session', { login, password });
    client.token = me.token;
    return client;
  }

  /** What a request in this person's name carries. */
  get sender(): { cookie: string; token: string } {
    return { cookie: this.cookie, token: this.token };
  }

  /** Sends bytes of an upload by the protocol, from its first on. */
  async upload(id: string, bytes: Buffer): Promise<void> {
    const response = await fetch(`${this.address}/api/v1/uploads/${id}`, {
      method: 'PATCH',
      headers: {
        ...{ 'x-last-tally-token': this.token, cookie: this.cookie, 'tus-resumable': '1.0.0', 'upload-offset': '0' },
        'content-type': 'application/offset+octet-stream',
      },
      body: new Uint8Array(bytes),
    });
    if (!response.ok) throw new Error(`PATCH of an upload: ${response.status} ${await response.text()}`);
  }

  /** Sends one request; an answer that is no success ends the making of the demo, with its sentence. */
  async send<T>(method: string, path: string, body?: unknown): Promise<T> {
    const response = await fetch(`${this.address}/api/v1${path}`, {
      method,
      headers: { 'content-type': 'application/json', 'x-last-tally-token': this.token, cookie: this.cookie },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const set = response.headers.getSetCookie().find((c) => c.startsWith('last-tally='));
    if (set) this.cookie = set.split(';')[0]!;
    const text = await response.text();
    if (!response.ok) throw new Error(`${method} ${path}: ${text}`);
    return JSON.parse(text) as T;
  }
}

export const operation = newOperation;
