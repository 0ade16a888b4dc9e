import { randomUUID } from 'node:crypto';

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
    const set = response.headers.getSetCookie()[0];
    if (set) this.cookie = set.split(';')[0]!;
    const text = await response.text();
    const json = /json/.test(response.headers.get('content-type') ?? '');
    return { status: response.status, body: (json ? JSON.parse(text) : text) as T, text, headers: response.headers };
  }

  /** The same, and a failure unless it is done. */
  async must<T = Record<string, unknown>>(method: string, path: string, body?: unknown): Promise<T> {
    const answer = await this.send<T>(method, path, body);
    if (answer.status >= 300) throw new Error(`${method} ${path}: ${answer.status} ${answer.text}`);
    return answer.body;
  }
}

export const operation = (): string => randomUUID();
