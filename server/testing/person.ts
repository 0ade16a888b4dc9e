import { newOperation } from '@contract/wire/operation';

export interface Answer<T = Record<string, unknown>> {
  status: number;
  body: T;
  text: string;
  headers: Headers;
}

/** Somebody at the API, signed in or not, with their cookie and token. */
export class Person {
  cookie = '';
  token = '';

  constructor(readonly address: string) {}

  static async signedIn(address: string, login: string, password: string): Promise<Person> {
    const person = new Person(address);
    const me = await person.send<{ token: string }>('POST', '/session', { login, password });
    if (me.status !== 200) throw new Error(me.text);
    person.token = me.body.token;
    return person;
  }

  /** The same person, as signed in as here, at another address. */
  at(address: string): Person {
    return Object.assign(new Person(address), { cookie: this.cookie, token: this.token });
  }

  async send<T = Record<string, unknown>>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const response = await fetch(`${this.address}/api/v1${path}`, {
      method: method.toUpperCase(),
      headers: {
        'content-type': 'application/json',
        'x-last-tally-token': this.token,
        cookie: this.cookie,
        ...headers,
      },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    for (const set of response.headers.getSetCookie()) {
      const [pair] = set.split(';') as [string];
      const name = pair.slice(0, pair.indexOf('=') + 1);
      const kept = this.cookie.split('; ').filter((c) => c !== '' && !c.startsWith(name));
      this.cookie = [pair, ...kept].join('; ');
    }
    // A stream never ends by itself: its head is answer enough.
    const streams = response.headers.get('content-type')?.startsWith('text/event-stream') === true;
    if (streams) await response.body!.cancel();
    const text = streams ? '' : await response.text();
    const json = /json/.test(response.headers.get('content-type') ?? '');
    return {
      status: response.status,
      body: (json && text !== '' ? JSON.parse(text) : text) as T,
      text,
      headers: response.headers,
    };
  }

  /** The bytes of a file. */
  async bytes(path: string): Promise<Buffer> {
    const response = await fetch(`${this.address}/api/v1${path}`, { headers: { cookie: this.cookie } });
    if (response.status !== 200) throw new Error(`GET ${path}: ${response.status}`);
    return Buffer.from(await response.arrayBuffer());
  }

  /** The same as {@link send}, and a failure unless it is done. */
  async must<T = Record<string, unknown>>(method: string, path: string, body?: unknown): Promise<T> {
    const answer = await this.send<T>(method, path, body);
    if (answer.status >= 300) throw new Error(`${method} ${path}: ${answer.status} ${answer.text}`);
    return answer.body;
  }
}

/** What one stream of events has told so far. */
export interface Told<T> {
  events: T[];
  /** Waits until an event is told that is so; fails after a minute. */
  until(is: (event: T) => boolean): Promise<T>;
  /** The server, or a line that broke, has ended it. */
  ended: Promise<void>;
  close(): void;
}

/** Opens a stream of server-sent events. */
export async function listen<T>(person: Person, path: string): Promise<Told<T>> {
  const end = new AbortController();
  const response = await fetch(`${person.address}/api/v1${path}`, {
    headers: { cookie: person.cookie },
    signal: end.signal,
  });
  if (response.status !== 200) throw new Error(`${path}: ${response.status} ${await response.text()}`);
  const events: T[] = [];
  const ended = (async () => {
    let rest = '';
    const text = new TextDecoder();
    for await (const piece of response.body as unknown as AsyncIterable<Uint8Array>) {
      const parts = (rest + text.decode(piece, { stream: true })).split('\n\n');
      rest = parts.pop()!;
      for (const part of parts) {
        const data = part.split('\n').find((l) => l.startsWith('data: '));
        if (data && !part.startsWith('event: sign')) events.push(JSON.parse(data.slice(6)) as T);
      }
    }
  })().catch(() => undefined);
  return {
    events,
    ended,
    async until(is) {
      for (const from = Date.now(); Date.now() - from < 60_000; await new Promise((done) => setTimeout(done, 10))) {
        const found = events.find(is);
        if (found) return found;
      }
      throw new Error(`was not told in a minute; told: ${JSON.stringify(events)}`);
    },
    close: () => end.abort(),
  };
}

export const operation = newOperation;
